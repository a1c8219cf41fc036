'use client';

import { Box } from '@chakra-ui/react';
import { levelShare } from './level-scale';
import type { PeakBar } from './use-peak-bar';

/** Where a voice should be, dBFS of its peaks: the scale's quiet green. */
const TARGET = { from: -24, to: -9 };
/** Levels that are written on a scale, dBFS. */
export const SCALE_MARKS = [-36, -18, -6];

/** Peaks on a scale: where they should be, where they are, where they were highest, and how much room is left above. */
export function LevelBar({ bar, tick, height, marked = false }: Pick<PeakBar, 'bar' | 'tick'> & { height: number; marked?: boolean }) {
  return (
    <Box position="relative" h={`${height}px`} bg="ground" borderRadius="2px" overflow="hidden" aria-hidden css={{ '--level-well': 'colors.lamp', '--level-hot': 'colors.ember' }}>
      <Box position="absolute" inset="0" left={`${100 * levelShare(TARGET.from)}%`} right={`${100 * (1 - levelShare(TARGET.to))}%`} bg="well" opacity="0.26" />
      <Box ref={bar} position="absolute" inset="1px 0" transformOrigin="left" transform="scaleX(0)" />
      {marked && SCALE_MARKS.map((db) => <Box key={db} position="absolute" top="0" bottom="0" left={`${100 * levelShare(db)}%`} w="1px" bg="faint" opacity="0.7" />)}
      <Box ref={tick} position="absolute" inset="0" opacity="0">
        <Box w="2px" h="100%" bg="text" />
      </Box>
    </Box>
  );
}
