import type { LoopFound } from '@/core/echo/loop-guard';

/** What the page tells the loop guard, once. */
export interface WatchShare {
  status: SharedArrayBuffer;
  sources: number;
  listeners: number;
}

/** Said again for as long as the loop is there. */
export type FromGuard = LoopFound;
