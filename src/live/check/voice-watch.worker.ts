import { VoiceSound } from '@/core/measure/voice-sound';
import { RING_BLOCK, ringReader } from '../recorder/ring';
import type { VoicesRead, WatchVoices } from './watch-messages';

const DRAIN_MS = 100;
const READ_EVERY = 5;

self.onmessage = ({ data: { ring, sources } }: MessageEvent<WatchVoices>) => {
  const reader = ringReader(ring, sources.length);
  const voices = sources.map(() => new VoiceSound());
  let drained = 0;
  setInterval(() => {
    reader.drain((_, channels) => voices.forEach((voice, k) => voice.push(channels.subarray(k * RING_BLOCK, (k + 1) * RING_BLOCK))));
    if (++drained % READ_EVERY > 0) return;
    self.postMessage(Object.fromEntries(voices.map((voice, k) => [sources[k], voice.read()])) satisfies VoicesRead);
  }, DRAIN_MS);
};
