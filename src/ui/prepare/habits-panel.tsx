'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { formatDb } from '../format';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';

const COUGHS = [
  { words: 'the call and the program', value: { callers: true, program: true } },
  { words: 'the call only', value: { callers: true, program: false } },
  { words: 'the program only', value: { callers: false, program: true } },
];
const LISTEN_SECONDS = [10, 30, 60, 300];

/** How the hands' moves on air behave. */
export function HabitsPanel() {
  const desk = useDesk();
  const talkDimDb = useDeskState(({ onAir }) => onAir.talkDimDb);
  const cough = useDeskState((state) => state.coughKeepsOut);
  const listenSeconds = useDeskState((state) => state.listenSeconds);
  return (
    <Panel title="On air">
      <Flex align="center" justify="space-between" gap="10px" mb="8px">
        <Text fontSize="14px">My cough keeps me out of</Text>
        <NativeSelect.Root size="sm" w="224px">
          <NativeSelect.Field
            aria-label="My cough keeps me out of"
            borderColor="hairline"
            bg="raised"
            value={COUGHS.findIndex(({ value }) => value.callers === cough.callers && value.program === cough.program)}
            onChange={(event) => desk.hands.setCough(COUGHS[Number(event.target.value)].value)}
          >
            {COUGHS.map(({ words }, place) => (
              <option key={words} value={place}>
                {words}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      <Flex align="center" justify="space-between" gap="10px" mb="8px">
        <Text fontSize="14px">Listening to one source ends after</Text>
        <NativeSelect.Root size="sm" w="224px">
          <NativeSelect.Field aria-label="Listening ends after" borderColor="hairline" bg="raised" value={listenSeconds} onChange={(event) => desk.hands.setListenSeconds(Number(event.target.value))}>
            {LISTEN_SECONDS.map((seconds) => (
              <option key={seconds} value={seconds}>
                {seconds < 60 ? `${seconds} s` : `${seconds / 60} min`}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      <Flex justify="space-between" fontSize="14px">
        <Text>While I talk to somebody, the rest goes down by</Text>
        <Text>{formatDb(-talkDimDb)}</Text>
      </Flex>
      <LevelSlider label="While I talk, the rest goes down by" value={talkDimDb} min={0} max={40} step={1} onChange={(db) => desk.hands.setTalkDim(db)} />
    </Panel>
  );
}
