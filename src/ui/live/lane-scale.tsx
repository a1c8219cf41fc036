'use client';

import { Box, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useFrame, useReading } from '../frame';
import { formatLevel } from '../format';
import { setStyle } from '../set-style';
import { setText } from '../set-text';
import { useDesk } from '../shell/desk-context';
import { HELD_MS, HOT_DBFS, levelShare } from './level-scale';

/** Where a voice should be, dBFS of its peaks: the scale's quiet green. */
const TARGET = { from: -24, to: -9 };

/** Loudness in a number, and its peaks on a scale: where they should be, and how much room is left above. */
export function LaneScale({ slot, wide }: { slot: number; wide: boolean }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const tick = useRef<HTMLDivElement>(null);
  const held = useRef({ db: -Infinity, at: 0 });
  useFrame(() => {
    if (!bar.current || !tick.current) return;
    const board = desk.board();
    const peakDb = board ? 20 * Math.log10(board.sourcePeak[slot]) : -Infinity;
    const hold = held.current;
    if (peakDb >= hold.db || performance.now() - hold.at > HELD_MS) Object.assign(hold, { db: peakDb, at: performance.now() });
    setStyle(bar.current, 'transform', `scaleX(${levelShare(peakDb).toFixed(3)})`);
    setStyle(bar.current, 'background', `var(--level-${hold.db > HOT_DBFS ? 'hot' : 'well'})`);
    setStyle(tick.current, 'transform', `translateX(${(100 * levelShare(hold.db)).toFixed(1)}%)`);
    setStyle(tick.current, 'opacity', Number.isFinite(hold.db) ? '1' : '0');
  });
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
