import { GUARD_WINDOW, LoopGuard } from '@/core/echo/loop-guard';
import { GUARD_SAMPLES, GUARD_SAMPLES_KEPT, statusBoard } from '../worklet/status-board';
import type { FromGuard, WatchShare } from './guard-messages';

/** Four looks a second: with two that agree, a loop is known well within two seconds. */
const LOOK_EVERY_MS = 250;

const guard = new LoopGuard();
const share = new Float32Array(GUARD_WINDOW);
const call = new Float32Array(2 * GUARD_WINDOW);

/** The newest samples of a ring that has been written up to `end`. */
function newest(ring: Float32Array, end: number, into: Float32Array): void {
  for (let i = 0; i < into.length; i++) into[i] = ring[(((end - into.length + i) % GUARD_SAMPLES_KEPT) + GUARD_SAMPLES_KEPT) % GUARD_SAMPLES_KEPT];
}

self.onmessage = ({ data }: MessageEvent<WatchShare>) => {
  const board = statusBoard(data.status, data.sources, data.listeners);
  setInterval(() => {
    const end = Atomics.load(board.counters, GUARD_SAMPLES);
    newest(board.guardShare, end, share);
    newest(board.guardCall, end, call);
    const found = guard.check(share, call);
    if (found) self.postMessage(found satisfies FromGuard);
  }, LOOK_EVERY_MS);
};
