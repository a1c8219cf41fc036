import { listenToVoice } from '@/core/strip/listen-to-voice';
import { ringReader } from '../recorder/ring';
import type { ListenToVoice, VoiceHeard } from './strip-messages';

const RATE = 48_000;
const DRAIN_MS = 100;
const MOST_SECONDS = 60;
const READ_EVERY_SECONDS = 1;

self.onmessage = ({ data: { ring } }: MessageEvent<ListenToVoice>) => {
  const reader = ringReader(ring, 1);
  const heard = new Float32Array(MOST_SECONDS * RATE);
  let length = 0;
  let readAt = 0;
  setInterval(() => {
    reader.drain((_, samples) => {
      if (length + samples.length > heard.length) return;
      heard.set(samples, length);
      length += samples.length;
    });
    if (length - readAt < READ_EVERY_SECONDS * RATE) return;
    readAt = length;
    self.postMessage({ seconds: length / RATE, facts: listenToVoice(heard.subarray(0, length)) } satisfies VoiceHeard);
  }, DRAIN_MS);
};
