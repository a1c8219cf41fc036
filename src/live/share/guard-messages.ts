import type { LoopFound } from '@/core/echo/loop-guard';

/** What the page tells the loop guard, once: a capture of both sides of the share and of everything else. */
export interface WatchShare {
  ring: SharedArrayBuffer;
}

/** Said again for as long as the loop is there. */
export type FromGuard = LoopFound;
