'use client';

import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { trackCandidates } from '@/live/desk/track-choices';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** What the next take of this episode holds: everything by itself; whatever is left out is left out for a reason. */
export function TracksPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const seats = useDeskState((state) => state.seats);
  const habits = useDeskState((state) => state.habits);
  const leftOut = useDeskState((state) => state.leftOut);
  const isRecording = useDeskState((state) => state.recording !== null);
  const cancelling = useDeskState((state) => state.cancelling);
  const candidates = trackCandidates(plan, { seats, cancelling, ...habits });
  const armed = candidates.filter(({ recorded }) => leftOut[recorded] === undefined);
  const setLeftOut = (recorded: string, reason: string | null) => {
    const next = { ...leftOut };
    if (reason === null) delete next[recorded];
    else next[recorded] = reason;
    desk.settings.leaveOut(next);
  };
  return (
    <Panel title="Tracks of the next take" aside={`${armed.length} of ${candidates.length}`}>
      {isRecording && (
        <Text fontSize="14px" color="soft" mb="6px">
          Changes here are for the next take; the one that runs stays as it began.
        </Text>
      )}
      <Flex as="ul" direction="column" gap="4px" listStyleType="none" aria-label="Tracks of the next take">
        {candidates.map(({ recorded, name, kind }) => (
          <ArmedTrack key={recorded} words={`${name}, ${kind}`} reason={leftOut[recorded]} onLeaveOut={(reason) => setLeftOut(recorded, reason)} />
        ))}
      </Flex>
    </Panel>
  );
}

function ArmedTrack({ words, reason, onLeaveOut }: { words: string; reason: string | undefined; onLeaveOut(reason: string | null): void }) {
  const [asking, setAsking] = useState(false);
  const [typed, setTyped] = useState('');
  const leave = () => {
    if (typed.trim() === '') return;
    onLeaveOut(typed.trim());
    setAsking(false);
  };
  return (
    <Box as="li" fontSize="14px">
      <Flex align="center" gap="8px">
        <Text flex="1" minW="0" truncate color={reason === undefined ? 'text' : 'soft'} textDecoration={reason === undefined ? undefined : 'line-through'}>
          {words}
        </Text>
        {reason === undefined ? (
          <ControlButton h="24px" px="8px" fontSize="12.5px" aria-label={`Leave out ${words}`} aria-expanded={asking} onClick={() => setAsking(!asking)}>
            Leave out
          </ControlButton>
        ) : (
          <ControlButton h="24px" px="8px" fontSize="12.5px" aria-label={`Record ${words} again`} onClick={() => onLeaveOut(null)}>
            Record it
          </ControlButton>
        )}
      </Flex>
      {reason !== undefined && <Text color="soft">not recorded: {reason}</Text>}
      {asking && reason === undefined && (
        <Flex gap="6px" mt="4px">
          <Input autoFocus size="xs" maxLength={200} borderColor="hairline" aria-label={`Why ${words} is left out`} placeholder="why …" value={typed} onChange={(event) => setTyped(event.target.value)} onKeyDown={(event) => event.key === 'Enter' && leave()} />
          <ControlButton h="26px" px="9px" fontSize="12.5px" aria-disabled={typed.trim() === ''} onClick={leave}>
            Leave it out
          </ControlButton>
        </Flex>
      )}
    </Box>
  );
}
