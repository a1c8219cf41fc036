'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { formatLevel } from '../format';
import { useFrame, useReading } from '../frame';
import { setStyle } from '../set-style';
import { setText } from '../set-text';

const FLOOR_DB = -60;
const HOT_DB = -3;
const HOLD_MS = 1500;

/** A level that moves: a bar over a scale of 60 dB, and the peak of the last moment in numbers. */
export function PeakMeter({ label, peak, idle }: { label: string; peak(): number | null; idle: string }) {
  const bar = useRef<HTMLDivElement>(null);
  const number = useRef<HTMLParagraphElement>(null);
  const held = useRef({ db: -Infinity, at: 0, off: true });
  useFrame(() => {
    const now = peak();
    const hold = held.current;
    hold.off = now === null;
    const db = now === null || now === 0 ? -Infinity : 20 * Math.log10(now);
    if (db >= hold.db || performance.now() - hold.at > HOLD_MS) Object.assign(hold, { db, at: performance.now() });
    if (!bar.current) return;
    setStyle(bar.current, 'transform', `scaleX(${Math.max(0, Math.min(1, 1 - db / FLOOR_DB)).toFixed(3)})`);
    setStyle(bar.current, 'background', `var(--peak-${hold.db > HOT_DB ? 'hot' : 'well'})`);
  });
  useReading(() => {
    const { db, off } = held.current;
    setText(number.current, off ? idle : Number.isFinite(db) ? `peak ${formatLevel(db)} dBFS` : 'silent');
  });
  return (
    <Flex role="group" aria-label={label} align="center" gap="10px" mt="6px" css={{ '--peak-well': 'colors.lamp', '--peak-hot': 'colors.ember' }}>
      <Box position="relative" flex="1" h="7px" bg="raised" borderRadius="full" overflow="hidden">
        <Box ref={bar} position="absolute" inset="0" transformOrigin="left" transform="scaleX(0)" />
      </Box>
      <Text ref={number} fontSize="12.5px" color="soft" w="118px" flex="none" textAlign="right">
        {idle}
      </Text>
    </Flex>
  );
}
