'use client';

import { Box, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useReading } from '../frame';
import { formatLevel } from '../format';
import { setText } from '../set-text';
import { useDesk } from '../shell/desk-context';
import { levelShare } from './level-scale';
import { usePeakBar } from './use-peak-bar';

/** Where a voice should be, dBFS of its peaks: the scale's quiet green. */
const TARGET = { from: -24, to: -9 };

/** Loudness in a number, and its peaks on a scale: where they should be, and how much room is left above. */
export function LaneScale({ slot, wide }: { slot: number; wide: boolean }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  const { bar, tick } = usePeakBar(slot);
  useReading(() => setText(number.current, formatLevel(desk.board()?.sourceLoudness[slot] ?? -Infinity)));
  return (
    <Box display="grid" gridTemplateColumns="32px 1fr" columnGap="6px" alignItems="center" css={{ '--level-well': 'colors.lamp', '--level-hot': 'colors.ember' }}>
      <Text fontFamily="heading" fontSize={wide ? '17px' : '15px'} fontWeight="700" textAlign="right" lineHeight="1">
        <span ref={number}>–</span>
      </Text>
      <Box position="relative" h="7px" bg="raised" borderRadius="2px" overflow="hidden" aria-hidden>
        <Box position="absolute" inset="0" left={`${100 * levelShare(TARGET.from)}%`} right={`${100 * (1 - levelShare(TARGET.to))}%`} bg="well" opacity="0.22" />
        <Box ref={bar} position="absolute" inset="1px 0" transformOrigin="left" transform="scaleX(0)" />
        <Box ref={tick} position="absolute" inset="0" opacity="0">
          <Box w="2px" h="100%" bg="text" />
        </Box>
      </Box>
    </Box>
  );
}
