'use client';

import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { isMadeUp, OUTPUT_CHANNEL_WORDS, type OutputChannels } from '@/core/devices/device';
import type { ListenerId } from '@/core/hearing/ids';
import { listenerName } from '@/core/hearing/names';
import type { OutletView } from '@/live/devices/plugged-state';
import { freeId } from '../free-id';
import { ControlButton } from '../shell/control-button';
import { dropOutsInWords } from '../format';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { ChannelSelect, DeviceSelect } from './device-select';
import { mixTitle, outletMixes, OUTLET_WORDS } from './outlet-words';
import { OffsetField } from './pair-devices';
import { PeakMeter } from './peak-meter';

/** Where the program and the feeds leave this computer. */
export function OutletsPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const { choices, outlets } = useDeskState((state) => state.plugged);
  const mixes = outletMixes(plan);
  const own = choices.outlets.filter(({ listener }) => mixes.some(({ id }) => id === listener));
  const [mix, setMix] = useState<ListenerId>('program');
  const [device, setDevice] = useState('');
  const [said, setSaid] = useState('');
  const add = (): void => {
    const id = freeId('outlet', choices.outlets.map((one) => one.id));
    const refusal = desk.devices.chooseOutlet(id, { listener: mix, device, channels: 'stereo', offsetMs: 0 });
    setSaid(refusal ?? '');
    if (refusal === null) setDevice('');
  };
  return (
    <Panel title="Outlets" aside={own.length === 0 ? 'the program and the feeds are only recorded' : undefined}>
      {own.map((choice) => (
        <OutletRow key={choice.id} view={outlets[choice.id]} choice={choice} mix={mixTitle(plan, choice.listener)} onSaid={setSaid} />
      ))}
      <Flex gap="8px" align="end" mt="6px" wrap="wrap">
        <Box as="label" fontSize="13px" color="soft" flex="1" minW="130px">
          Mix
          <NativeSelect.Root size="sm" mt="3px">
            <NativeSelect.Field aria-label="Mix of the new outlet" bg="ground" borderColor="hairline" color="text" value={mix} onChange={(event) => setMix(event.target.value as ListenerId)}>
              {mixes.map((listener) => (
                <option key={listener.id} value={listener.id}>
                  {listenerName(listener)}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Box>
        <Box flex="2" minW="210px">
          <DeviceSelect label="leaves by" kind="output" value={device} none="choose an output" onChange={setDevice} />
        </Box>
        <ControlButton h="32px" disabled={device === ''} onClick={add}>
          Add the outlet
        </ControlButton>
      </Flex>
      <Text role="alert" fontSize="13px" color="ember">
        {said}
      </Text>
    </Panel>
  );
}

function OutletRow({ view, choice, mix, onSaid }: { view: OutletView | undefined; choice: OutletView['choice']; mix: string; onSaid(words: string): void }) {
  const desk = useDesk();
  const name = useDeskState(({ plugged }) => plugged.devices.known.find(({ key }) => key === choice.device)) ? desk.devices.owner.nameOf(choice.device) : 'a device not known here';
  const change = (next: Partial<{ channels: OutputChannels; offsetMs: number }>) => onSaid(desk.devices.chooseOutlet(choice.id, { listener: choice.listener, device: choice.device, channels: choice.channels, offsetMs: choice.offsetMs, ...next }) ?? '');
  const state = view ? OUTLET_WORDS[view.state] : 'opens with the call';
  return (
    <Box role="group" aria-label={`${mix} by ${name}`} py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Flex align="baseline" justify="space-between" gap="10px">
        <Text fontSize="14px" fontWeight="600">
          {mix} → {name}
        </Text>
        <Text fontSize="13px" color={view?.state === 'away' || view?.state === 'refused' ? 'ember' : 'soft'}>
          {state}
          {view?.delayMs != null && ` · ${Math.round(view.delayMs)} ms`}
          {view && view.glitches > 0 && ` · ${dropOutsInWords(view.glitches)}`}
        </Text>
      </Flex>
      {view?.reason && (
        <Text fontSize="13px" color="ember">
          {view.reason}
        </Text>
      )}
      <PeakMeter label={`Level of ${mix} by ${name}`} peak={() => (view?.state === 'open' ? desk.devices.outletPeak(choice.id) : null)} idle={view ? 'closed' : 'no call runs'} />
      <Flex gap="12px" mt="4px" align="end" wrap="wrap">
        <ChannelSelect label={`Channels of ${mix} by ${name}`} words={OUTPUT_CHANNEL_WORDS} value={choice.channels} onChange={(channels) => change({ channels })} />
        {!isMadeUp(choice.device) && <OffsetField label="Delay by" value={choice.offsetMs} onSet={(offsetMs) => change({ offsetMs })} />}
        <ControlButton ml="auto" h="28px" aria-label={`Remove the outlet ${mix} by ${name}`} onClick={() => desk.devices.chooseOutlet(choice.id, null)}>
          Remove
        </ControlButton>
      </Flex>
    </Box>
  );
}
