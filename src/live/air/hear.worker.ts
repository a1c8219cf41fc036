import { StreamDelay } from '@/core/air/stream-delay';
import { soundRing } from '@/core/dsp/sound-ring';
import { RingEar } from '../devices/ring-ear';
import { ringReader } from '../recorder/ring';
import type { FromHearing, HearRequest } from './hear-messages';

const DRAIN_MS = 100;
const LOOK_EVERY_MS = 3000;

self.onmessage = ({ data }: MessageEvent<HearRequest>) => {
  const delay = new StreamDelay();
  const sent = ringReader(data.sent, 1);
  const heard = new RingEar(soundRing(data.heard));
  setInterval(() => {
    sent.drain((_, block) => delay.sent(block));
    delay.heard(heard.newSound());
  }, DRAIN_MS);
  setInterval(() => {
    const seconds = delay.find();
    self.postMessage((seconds === null ? null : Math.round(1000 * seconds)) satisfies FromHearing);
  }, LOOK_EVERY_MS);
};
