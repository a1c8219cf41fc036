'use client';

import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { voiceOf } from '@/core/hearing/ids';
import { isProcessed } from '@/core/hearing/processing';
import { trackCandidates } from '@/live/desk/track-choices';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { AlsoRecord } from './also-record';
import { RecordingChoices } from './recording-choices';

const STOP_AFTER = [0, 15, 30, 45, 60, 90, 120, 180];

/** What the next take holds: everything by itself; whatever is left out is left out for a reason. */
export function RecordedPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const seats = useDeskState((state) => state.seats);
  const recordMixes = useDeskState((state) => state.recordMixes);
  const recordTalkback = useDeskState((state) => state.recordTalkback);
  const recordProcessed = useDeskState((state) => state.recordProcessed);
  const someProcessed = plan.seats.some(({ id }) => isProcessed(plan, voiceOf(id)));
  const leftOut = useDeskState((state) => state.leftOut);
  const stopAfterMinutes = useDeskState((state) => state.stopAfterMinutes);
  const isRecording = useDeskState((state) => state.recording !== null);
  const candidates = trackCandidates(plan, { seats, recordMixes, recordTalkback, recordProcessed });
  const armed = candidates.filter(({ recorded }) => leftOut[recorded] === undefined);
  const setLeftOut = (recorded: string, reason: string | null) => {
    const next = { ...leftOut };
    if (reason === null) delete next[recorded];
    else next[recorded] = reason;
    desk.settings.chooseRecording({ leftOut: next });
  };
  return (
    <Panel title="What is recorded" aside={`${armed.length} of ${candidates.length} tracks`}>
      {isRecording && (
        <Text fontSize="14px" color="soft" mb="6px">
          Changes here are for the next take; the one that runs stays as it began.
        </Text>
      )}
      <Flex as="ul" direction="column" gap="4px" listStyleType="none" mb="10px" aria-label="Tracks of the next take">
        {candidates.map(({ recorded, name, kind }) => (
          <ArmedTrack key={recorded} words={`${name}, ${kind}`} reason={leftOut[recorded]} onLeaveOut={(reason) => setLeftOut(recorded, reason)} />
        ))}
      </Flex>
      <Flex direction="column" gap="8px" mb="10px">
        <AlsoRecord choice="recordMixes" title="Program, returns, phones and feeds get a track of their own.">
          Record the mixes too, beside every voice
        </AlsoRecord>
        <AlsoRecord choice="recordTalkback" title="What is said privately is on no track unless this is chosen.">
          Record talkback too, on tracks of its own
        </AlsoRecord>
        <AlsoRecord choice="recordProcessed" title="A second track of every voice whose rumble is cut or that is evened out (in Hearing); the first stays as it came in.">
          Record voices as they go into the mixes too{someProcessed ? '' : '; none is processed now'}
        </AlsoRecord>
      </Flex>
      <Flex align="center" justify="space-between" gap="10px" mb="8px">
        <Text fontSize="14px">Stop by itself</Text>
        <NativeSelect.Root size="sm" w="224px">
          <NativeSelect.Field aria-label="Stop by itself" borderColor="hairline" bg="raised" value={stopAfterMinutes} onChange={(event) => desk.settings.chooseRecording({ stopAfterMinutes: Number(event.target.value) })}>
            {STOP_AFTER.map((minutes) => (
              <option key={minutes} value={minutes}>
                {minutes === 0 ? 'never' : `after ${minutes} min`}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      <RecordingChoices />
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
