'use client';

import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { INPUT_CHANNEL_WORDS } from '@/core/devices/device';
import { inputOf } from '@/core/hearing/ids';
import { withInput, withoutInput } from '@/core/hearing/inputs';
import type { Input as PlanInput } from '@/core/hearing/plan';
import { MOST_INPUTS } from '@/core/limits';
import type { InputState } from '@/live/devices/device-input';
import { freeId } from '../free-id';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { ChannelSelect, DeviceSelect } from './device-select';
import { SourceOffset } from './pair-devices';
import { PeakMeter } from './peak-meter';
import { useTrial } from './use-trial';

const STATE_WORDS: Record<InputState, string> = { none: 'no device', opening: 'opening', open: 'open', away: 'device away', refused: 'cannot be opened' };

/** Sounds that come in by a device and are nobody's voice: an instrument, a player, a capture box, another program. */
export function InputsPanel() {
  const desk = useDesk();
  const inputs = useDeskState(({ plan }) => plan.inputs);
  const [name, setName] = useState('');
  const add = (): void => {
    const wanted = name.trim();
    if (wanted === '') return;
    desk.plan.change((plan) => withInput(plan, { id: freeId(wanted, plan.inputs.map(({ id }) => id)), name: wanted, stereo: true }));
    setName('');
  };
  return (
    <Panel title="Inputs" aside={inputs.length === 0 ? 'instruments, players, other programs' : undefined}>
      {inputs.map((input) => (
        <InputRow key={input.id} input={input} />
      ))}
      <Flex gap="7px">
        <Input size="sm" maxLength={30} placeholder="record player, game …" aria-label="Name of a new input" value={name} borderColor="hairline" onChange={(event) => setName(event.target.value)} onKeyDown={(event) => event.key === 'Enter' && add()} />
        <ControlButton h="32px" disabled={name.trim() === '' || inputs.length >= MOST_INPUTS} onClick={add}>
          Add the input
        </ControlButton>
      </Flex>
    </Panel>
  );
}

function InputRow({ input }: { input: PlanInput }) {
  const desk = useDesk();
  const source = inputOf(input.id);
  const { choices, inputs } = useDeskState((state) => state.plugged);
  const choice = choices.inputs.find((one) => one.source === source) ?? null;
  const view = inputs[source];
  const trial = useTrial(choice, true);
  const setStereo = (stereo: boolean) => desk.plan.change((plan) => ({ ...plan, inputs: plan.inputs.map((one) => (one.id === input.id ? { ...one, stereo } : one)) }));
  const remove = (): void => {
    desk.devices.chooseInput(source, null);
    desk.plan.change((plan) => withoutInput(plan, input.id));
  };
  return (
    <Box role="group" aria-label={input.name} py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Flex align="baseline" justify="space-between">
        <Text fontSize="14px" fontWeight="600">
          {input.name}
        </Text>
        <Text fontSize="13px" color={view?.state === 'away' || view?.state === 'refused' ? 'ember' : 'soft'}>
          {view ? STATE_WORDS[view.state] : choice ? 'opens with the call' : 'no device chosen'}
          {view?.reason && view.state === 'refused' && `: ${view.reason}`}
        </Text>
      </Flex>
      <Flex gap="10px" align="end" mt="4px">
        <DeviceSelect label={`${input.name} comes by`} kind="input" value={choice?.device ?? ''} none="no input" onChange={(device) => desk.devices.chooseInput(source, device === '' ? null : { device, channels: choice?.channels ?? 'stereo' })} />
        <ChannelSelect label={`Channels of ${input.name}`} words={INPUT_CHANNEL_WORDS} value={choice?.channels ?? 'stereo'} onChange={(channels) => choice && desk.devices.chooseInput(source, { device: choice.device, channels })} />
      </Flex>
      <PeakMeter label={`Level of ${input.name}`} peak={trial.peak} idle={choice ? 'not heard' : 'none chosen'} />
      <Flex gap="12px" mt="6px" align="center" wrap="wrap">
        <SourceOffset source={source} name={input.name} measuredMs={view?.delayMs ?? null} />
        <ControlButton h="28px" aria-pressed={input.stereo} onClick={() => setStereo(!input.stereo)}>
          {input.stereo ? 'Track in stereo' : 'Track in mono'}
        </ControlButton>
        <ControlButton ml="auto" h="28px" aria-label={`Remove the input ${input.name}`} onClick={remove}>
          Remove
        </ControlButton>
      </Flex>
    </Box>
  );
}
