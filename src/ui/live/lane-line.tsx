'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { LINE_STATE_WORDS, type LineState } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
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

/** A link in words, with the time in its state; a press shows everything about it. What is measured of it is shown only then. */
export function LaneLine({ seat, lines = 2 }: { seat: DeskSeat; lines?: number }) {
  const state = useDeskState(({ lines }) => lines[seat.id]?.state);
  const sinceMs = useDeskState(({ lines }) => lines[seat.id]?.sinceMs ?? 0);
  const muted = useDeskState(({ lines }) => lines[seat.id]?.muted ?? false);
  const [open, setOpen] = useState(false);
  if (!state) return null;
  return (
    <>
      <Flex as="button" aria-label={`Line of ${seat.name}`} aria-expanded={open} onClick={() => setOpen(true)} align="baseline" gap="6px" color="soft" fontSize="13px" lineHeight="1.3" textAlign="left" cursor="pointer" py="5px" my="-5px">
        <Box boxSize="8px" flex="none" borderRadius={state === 'lost' ? '2px' : 'full'} bg={COLOURS[state]} aria-hidden />
        <Text lineClamp={lines} textDecoration="underline dotted" color={state === 'lost' ? 'ember' : 'soft'}>
          {LINE_STATE_WORDS[state]}
          {hasClock(state) && <Since atMs={sinceMs} />}
          {muted && state !== 'lost' && ' · muted'}
        </Text>
      </Flex>
      {open && <OpenLine seat={seat} onClose={() => setOpen(false)} />}
    </>
  );
}

/** How long a state has lasted, behind its words. */
function Since({ atMs }: { atMs: number }) {
  return ` ${formatDuration((useNow() - atMs) / 1000)}`;
}

function OpenLine({ seat, onClose }: { seat: DeskSeat; onClose(): void }) {
  const line = useDeskState(({ lines }) => lines[seat.id]);
  const now = useNow();
  if (!line) return null;
  return seat.line === 'pair' ? <PairPanel seat={seat} line={line} now={now} onClose={onClose} /> : <LinePanel seat={seat} line={line} now={now} onClose={onClose} />;
}

const hasClock = (state: LineState): boolean => !['none', 'invited', 'unplugged', 'one-end', 'plugged'].includes(state);
