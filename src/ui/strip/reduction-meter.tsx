'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import type { InsertName } from '@/core/strip/settings';
import { REDUCTIONS } from '@/live/worklet/status-board';
import { formatDb } from '../format';
import { useFrame, useReading } from '../frame';
import { setStyle } from '../set-style';
import { setText } from '../set-text';
import { useDesk } from '../shell/desk-context';

/** Where the audio thread writes what each insert turns down. */
const PLACES: Partial<Record<InsertName, number>> = { gate: 0, compressor: 1, deEsser: 2, limiter: 3 };
const DEEPEST_DB = 24;

/** By how much an insert turns the voice down now; nothing for one that never does. */
export function ReductionMeter({ insert, slot }: { insert: InsertName; slot: number }) {
  const desk = useDesk();
  const bar = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const place = PLACES[insert];
  const now = (): number => (place === undefined || slot < 0 ? 0 : (desk.board()?.reduction[slot * REDUCTIONS + place] ?? 0));
  useFrame(() => {
    if (bar.current) setStyle(bar.current, 'transform', `scaleX(${(Math.min(DEEPEST_DB, -now()) / DEEPEST_DB).toFixed(2)})`);
  });
  useReading(() => setText(text.current, now() < -0.25 ? formatDb(now()) : '0 dB'));
  if (place === undefined) return null;
  return (
    <Flex align="center" gap="8px" title="How much it turns the voice down now.">
      <Box w="90px" h="6px" bg="ground" borderRadius="full" overflow="hidden">
        <Box ref={bar} h="100%" w="100%" bg="tide" transformOrigin="right" transform="scaleX(0)" />
      </Box>
      <Text as="span" fontSize="13px" color="tide" minW="48px" textAlign="right">
        <span ref={text} />
      </Text>
    </Flex>
  );
}
