'use client';

import { Box, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useFrame, useReading } from '../frame';
import { formatLevel } from '../format';
import { useDesk } from '../shell/desk-context';
import { setStyle } from '../set-style';
import { setText } from '../set-text';
import { HELD_MS, HOT_DBFS, levelShare } from './level-scale';

/** Loudness in numbers, and a bar whose empty part is the headroom. */
export function LaneLevel({ slot }: { slot: number }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const tick = useRef<HTMLDivElement>(null);
  const room = useRef<HTMLSpanElement>(null);
  const held = useRef({ db: -Infinity, at: 0 });
  useFrame(() => {
    if (!bar.current || !tick.current) return;
    const board = desk.board();
    const peakDb = board ? 20 * Math.log10(board.sourcePeak[slot]) : -Infinity;
    const hold = held.current;
    if (peakDb >= hold.db || performance.now() - hold.at > HELD_MS) Object.assign(hold, { db: peakDb, at: performance.now() });
    const hot = hold.db > HOT_DBFS;
    setStyle(bar.current, 'transform', `scaleX(${levelShare(peakDb).toFixed(3)})`);
    setStyle(bar.current, 'background', `var(--level-${hot ? 'hot' : 'well'})`);
    setStyle(tick.current, 'transform', `translateX(${(100 * levelShare(hold.db)).toFixed(1)}%)`);
    setStyle(tick.current, 'opacity', Number.isFinite(hold.db) ? '1' : '0');
  });
  useReading(() => {
    const { db } = held.current;
    setText(number.current, formatLevel(desk.board()?.sourceLoudness[slot] ?? -Infinity));
    setText(room.current, Number.isFinite(db) ? `peak ${formatLevel(db)} dB` : 'silent');
  });
  return (
    <Box css={{ '--level-well': 'colors.lamp', '--level-hot': 'colors.ember' }}>
      <Text fontFamily="heading" fontSize="20px" fontWeight="700" lineHeight="1.1">
        <span ref={number}>–</span>
        <Text as="span" fontFamily="body" fontSize="11.5px" fontWeight="400" color="soft" ml="4px">
          LUFS
        </Text>
      </Text>
      <Box position="relative" h="5px" my="4px" bg="raised" borderRadius="full" overflow="hidden">
        <Box ref={bar} position="absolute" inset="0" transformOrigin="left" transform="scaleX(0)" />
        <Box ref={tick} position="absolute" inset="0" opacity="0">
          <Box w="2px" h="100%" bg="text" />
        </Box>
      </Box>
      <Text fontSize="11.5px" color="soft" lineHeight="1.2">
        <span ref={room}>silent</span>
      </Text>
    </Box>
  );
}
