'use client';

import { Box, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { useReading } from '../frame';
import { formatLevel } from '../format';
import { useDesk } from '../shell/desk-context';
import { setText } from '../set-text';
import { usePeakBar } from './use-peak-bar';

/** Loudness in numbers, and a bar whose empty part is the headroom. */
export function LaneLevel({ slot }: { slot: number }) {
  const desk = useDesk();
  const number = useRef<HTMLSpanElement>(null);
  const { bar, tick, held } = usePeakBar(slot);
  const room = useRef<HTMLSpanElement>(null);
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
