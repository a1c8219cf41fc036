'use client';

import { Box, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useReading } from '../frame';
import { formatLevel } from '../format';
import { setText } from '../set-text';
import { useDesk } from '../shell/desk-context';
import { LevelBar } from './level-bar';

/** Loudness in a number, and its peaks on a scale: where they should be, and how much room is left above. */
export function LaneScale({ slot, wide }: { slot: number; wide: boolean }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  useReading(() => setText(number.current, formatLevel(desk.board()?.sourceLoudness[slot] ?? -Infinity)));
  return (
    <Box display="grid" gridTemplateColumns="32px 1fr" columnGap="6px" alignItems="center">
      <Text fontFamily="heading" fontSize={wide ? '17px' : '15px'} fontWeight="700" textAlign="right" lineHeight="1">
        <span ref={number}>–</span>
      </Text>
      <LevelBar slot={slot} height={7} />
    </Box>
  );
}
