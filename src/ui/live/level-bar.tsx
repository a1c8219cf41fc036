'use client';

import { Box } from '@chakra-ui/react';
import { Painted } from './painted';

/** Peaks on a scale: where they should be, where they are, where they were highest, and how much room is left above. */
export function LevelBar({ slot, height, marked = false }: { slot: number; height: number; marked?: boolean }) {
  return (
    <Box h={`${height}px`} borderRadius="2px" overflow="hidden">
      <Painted kind="level" slot={slot} marked={marked} w="100%" h="100%" />
    </Box>
  );
}
