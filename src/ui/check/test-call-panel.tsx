'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { TestCallPhase } from '@/core/session/play-back';
import type { TestCallProgress } from '@/live/check/check-state';
import { SelectOptions } from '../select-options';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { useTestCallPhase } from '../use-test-call-phase';

/** A test call: the host speaks, and hears what a caller was sent meanwhile. */
export function TestCallPanel() {
  const desk = useDesk();
  const seats = useDeskState(({ plan }) => plan.seats);
  const people = useDeskState((state) => state.seats);
  const running = useDeskState(({ testCall }) => testCall);
  const ready = useDeskState(({ call, check, recording, testCall }) => call === 'running' && check === null && recording === null && testCall === null);
  const callers = seats.filter(({ role }) => role === 'caller');
  const [chosen, setChosen] = useState('');
  const seat = callers.find(({ id }) => id === chosen) ?? callers[0];
  const phase = useTestCallPhase(running?.beganAt ?? null);
  if (!seat) return null;
  const practises = people.some(({ id, line, practice }) => id === seat.id && line === 'practice' && practice);
  const nameOf = (id: string): string => seats.find((one) => one.id === id)?.name ?? 'Somebody';
  return (
    <Panel title="Test call">
      <Text fontSize="14px" color="soft" mb="10px">
        Speak for six seconds after the tone: {practises ? `${seat.name}’s practice line plays back into the call` : 'you then hear in your phones'} what {seat.name} was sent meanwhile.
      </Text>
      <Flex gap="8px" align="center">
        <NativeSelect.Root size="sm" flex="1" minW="0">
          <NativeSelect.Field aria-label="Whose line" value={seat.id} bg="ground" borderColor="hairline" onChange={(event) => setChosen(event.target.value)}>
            <SelectOptions options={callers.map(({ id, name }) => [id, name] as const)} />
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        {running?.whose === 'host' ? (
          <ControlButton h="32px" onClick={() => desk.testCalls.stop()}>
            Break off
          </ControlButton>
        ) : (
          <ControlButton h="32px" disabled={!ready} onClick={() => void desk.testCalls.hearWhat(seat.id)}>
            Call it
          </ControlButton>
        )}
      </Flex>
      <Text role="status" aria-label="Test call" fontSize="14px" mt="8px" minH="21px" fontWeight="700">
        {running && phase ? wordsOf(running, nameOf(running.seat))[phase] : ''}
      </Text>
    </Panel>
  );
}

function wordsOf({ whose }: TestCallProgress, name: string): Record<TestCallPhase, string> {
  if (whose === 'guest') {
    const words = `${name} listens to their own voice in the waiting room`;
    return { tone: words, speak: words, turn: words, play: words, over: '' };
  }
  return { tone: 'A tone …', speak: 'Speak now …', turn: 'Two tones …', play: `This is what ${name} hears.`, over: '' };
}
