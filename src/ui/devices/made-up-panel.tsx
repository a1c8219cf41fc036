'use client';

import { isMadeUp, madeUpKey } from '@/core/devices/device';
import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';

/** The outside program at the far end of the made-up cables: it can be told to misbehave. Shown only while one is in use. */
export function MadeUpPanel() {
  const desk = useDesk();
  const manner = useDeskState(({ plugged }) => plugged.farEnd);
  const inUse = useDeskState(({ plugged }) => [...plugged.choices.inputs, ...plugged.choices.outlets].some(({ device }) => isMadeUp(device)));
  const away = useDeskState(({ plugged }) => plugged.devices.known.some(({ key, here }) => key === madeUpKey('input', 'cable-2') && !here));
  if (!inUse) return null;
  return (
    <Panel title="Made-up outside program" aside="to practise with">
      <Text fontSize="13px" color="soft" mb="8px">
        It listens to made-up cable 1 and speaks into made-up cable 2, like a call program of yours would.
      </Text>
      <Flex gap="8px" wrap="wrap" align="center">
        <NativeSelect.Root size="sm" w="150px">
          <NativeSelect.Field aria-label="People at the far end" bg="ground" borderColor="hairline" value={manner.people} onChange={(event) => desk.devices.setFarEnd({ people: Number(event.target.value) })}>
            <option value={0}>nobody there</option>
            <option value={1}>one person</option>
            <option value={2}>two people</option>
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Fault pressed={manner.sendsBack} onPress={() => desk.devices.setFarEnd({ sendsBack: !manner.sendsBack })}>
          Sends everything back
        </Fault>
        <Fault pressed={manner.loudspeakers} onPress={() => desk.devices.setFarEnd({ loudspeakers: !manner.loudspeakers })}>
          Listens on loudspeakers
        </Fault>
        <Fault pressed={manner.rate === 44100} onPress={() => desk.devices.setFarEnd({ rate: manner.rate === 44100 ? 48000 : 44100 })}>
          Runs at 44.1 kHz
        </Fault>
        <Fault pressed={manner.ppm !== 0} onPress={() => desk.devices.setFarEnd({ ppm: manner.ppm === 0 ? 300 : 0 })}>
          Clock 300 ppm fast
        </Fault>
        <Fault pressed={away} onPress={() => desk.devices.owner.pullMadeUp('cable-2', !away)}>
          Cable 2 pulled out
        </Fault>
      </Flex>
    </Panel>
  );
}

function Fault({ pressed, onPress, children }: { pressed: boolean; onPress(): void; children: string }) {
  return (
    <ControlButton h="30px" fontSize="13px" tone={pressed ? 'lit' : 'plain'} aria-pressed={pressed} onClick={onPress}>
      {children}
    </ControlButton>
  );
}
