import { PairWatch } from '@/core/echo/pair-watch';
import { RING_BLOCK, ringReader, type RingReader } from '../recorder/ring';
import type { FromEchoWorker, ToEchoWorker, WatchedPair } from './echo-messages';

const DRAIN_MS = 100;
const CHANNELS = 3;

let reader: RingReader | null = null;
let watched: { source: string; watch: PairWatch }[] = [];

const setLeast = (pairs: readonly WatchedPair[]): void => {
  for (const { source, leastMs } of pairs) {
    const one = watched.find((pair) => pair.source === source);
    if (one) one.watch.leastMs = leastMs ?? undefined;
  }
};

self.onmessage = ({ data }: MessageEvent<ToEchoWorker>) => {
  if (data.type === 'watch') {
    watched = data.pairs.map(({ source }, k) => ({ source, watch: new PairWatch(k / data.pairs.length) }));
    reader = ringReader(data.ring, CHANNELS * watched.length);
  }
  setLeast(data.pairs);
};

setInterval(() => {
  reader?.drain((_, channels) => {
    const channel = (k: number): Float32Array => channels.subarray(k * RING_BLOCK, (k + 1) * RING_BLOCK);
    watched.forEach(({ source, watch }, k) => {
      const reading = watch.take(channel(CHANNELS * k), channel(CHANNELS * k + 1), channel(CHANNELS * k + 2));
      if (reading) self.postMessage({ source, reading } satisfies FromEchoWorker);
    });
  });
}, DRAIN_MS);
