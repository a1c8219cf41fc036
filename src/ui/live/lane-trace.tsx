'use client';

import { Painted } from './painted';

/** What a source says, moving left: the newest sound is at the edge on the right. */
export function LaneTrace({ slot, margin = 10 }: { slot: number; margin?: number }) {
  return <Painted kind="trace" slot={slot} w="100%" h={`calc(100% - ${2 * margin}px)`} />;
}
