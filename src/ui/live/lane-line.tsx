'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { LINE_STATE_WORDS, type LineState } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import type { LineView } from '@/live/lines/line-view';
import { formatDuration } from '../format';
import { useDeskState } from '../shell/desk-context';
import { PairPanel } from '../devices/pair-panel';
import { LinePanel } from './line-panel';

const COLOURS: Record<LineState, string> = {
  none: 'faint',
  invited: 'faint',
  opened: 'lamp',
  checking: 'lamp',
  waiting: 'lamp',
  live: 'tide',
  lost: 'ember',
  back: 'well',
  left: 'faint',
  unplugged: 'faint',
  'one-end': 'lamp',
  plugged: 'faint',
  silent: 'lamp',
  away: 'ember',
  refused: 'ember',
  looped: 'ember',
};

/** The clock, once a second. */
function useNow(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return now;
}

/** A link in words, with the time in its state; a press shows everything about it. */
export function LaneLine({ seat, lines = 2 }: { seat: DeskSeat; lines?: number }) {
  const line = useDeskState(({ lines }) => lines[seat.id]);
  const [open, setOpen] = useState(false);
  const now = useNow();
  if (!line) return null;
  return (
    <>
      <Flex as="button" aria-label={`Line of ${seat.name}`} aria-expanded={open} onClick={() => setOpen(true)} align="baseline" gap="6px" color="soft" fontSize="13px" lineHeight="1.3" textAlign="left" cursor="pointer" py="5px" my="-5px">
        <Box boxSize="8px" flex="none" borderRadius={line.state === 'lost' ? '2px' : 'full'} bg={COLOURS[line.state]} aria-hidden />
        <Text lineClamp={lines} textDecoration="underline dotted" color={line.state === 'lost' ? 'ember' : 'soft'}>
          {LINE_STATE_WORDS[line.state]}
          {hasClock(line) && ` ${formatDuration((now - line.sinceMs) / 1000)}`}
          {line.muted && line.state !== 'lost' && ' · muted'}
        </Text>
      </Flex>
      {open && seat.line === 'pair' && <PairPanel seat={seat} line={line} now={now} onClose={() => setOpen(false)} />}
      {open && seat.line !== 'pair' && <LinePanel seat={seat} line={line} now={now} onClose={() => setOpen(false)} />}
    </>
  );
}

const hasClock = ({ state }: LineView): boolean => !['none', 'invited', 'unplugged', 'one-end', 'plugged'].includes(state);
