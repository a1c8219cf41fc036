'use client';

import { Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { gainToDb } from '@/core/dsp/decibels';
import { useReading } from '../frame';
import { formatDb } from '../format';
import { useDesk } from '../shell/desk-context';
import { setText } from '../set-text';

/** What hand and voices together make of a source's gain, while the voices hold it down. */
export function RiddenGain({ slot, trimDb }: { slot: number; trimDb: number }) {
  const desk = useDesk();
  const text = useRef<HTMLSpanElement>(null);
  useReading(() => {
    const gain = desk.board()?.duckGain[slot] ?? 1;
    setText(text.current, gain < 0.985 ? `now ${formatDb(trimDb + gainToDb(gain))}` : '');
  });
  return (
    <Text fontSize="12.5px" lineHeight="1.2" color="tide" minH="15px" mt="3px" whiteSpace="nowrap" title="Hand and voices together: it goes under who speaks.">
      <span ref={text} />
    </Text>
  );
}
