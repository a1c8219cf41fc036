'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useReading } from '../frame';
import { formatLevel } from '../format';
import { useDesk } from '../shell/desk-context';
import { setText } from '../set-text';
import { heldPeakDb, levelShare, SCALE_MARKS } from '@/live/paint/level-scale';
import { LevelBar } from './level-bar';

/** Loudness and the last peak in numbers, and a scale whose empty part is the headroom. */
export function LaneLevel({ slot }: { slot: number }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  const room = useRef<HTMLSpanElement>(null);
  useReading(() => {
    const board = desk.board();
    const db = board ? heldPeakDb(board, slot) : -Infinity;
    setText(number.current, formatLevel(board?.sourceLoudness[slot] ?? -Infinity));
    setText(room.current, Number.isFinite(db) ? `peak ${formatLevel(db)}` : 'silent');
  });
  return (
    <Box>
      <Flex align="baseline" justify="space-between" gap="4px">
        <Text fontFamily="heading" fontSize="20px" fontWeight="700" lineHeight="1.1" whiteSpace="nowrap">
          <span ref={number}>–</span>
          <Text as="span" fontFamily="body" fontSize="12px" fontWeight="400" color="soft" ml="3px">
            LUFS
          </Text>
        </Text>
        <Text fontSize="12px" color="soft" lineHeight="1.2" whiteSpace="nowrap">
          <span ref={room}>silent</span>
        </Text>
      </Flex>
      <Box mt="5px" mb="2px">
        <LevelBar slot={slot} height={10} marked />
      </Box>
      <Box position="relative" h="13px" fontSize="12px" lineHeight="13px" color="soft" aria-hidden>
        {SCALE_MARKS.map((db) => (
          <Text key={db} as="span" position="absolute" left={`${100 * levelShare(db)}%`} transform="translateX(-50%)">
            {Math.abs(db)}
          </Text>
        ))}
      </Box>
    </Box>
  );
}
