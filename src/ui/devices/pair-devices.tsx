'use client';

import { Box, Flex, Input, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { isMadeUp, INPUT_CHANNEL_WORDS, OUTPUT_CHANNEL_WORDS } from '@/core/devices/device';
import { setSource } from '@/core/hearing/edit';
import type { SourceId } from '@/core/hearing/ids';
import { sourceSettings } from '@/core/hearing/plan';
import { listenerOfLine, sourceOfLine } from '@/core/hearing/seats';
import { MOST_OFFSET_MS } from '@/core/hearing/source-treatment';
import { outletOfLine } from '@/core/hearing/wiring';
import type { DeskSeat } from '@/core/session/desk-data';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { ChannelSelect, DeviceSelect } from './device-select';
import { farEndsInWords } from './far-ends';
import { LineProofStep } from './line-proof-step';

/** The two devices of a pair line, with the channels, the way to prove it, and what the other program must choose. */
export function PairDevices({ seat }: { seat: DeskSeat }) {
  const desk = useDesk();
  const source = sourceOfLine(seat);
  const { devices, choices } = useDeskState((state) => state.plugged);
  const measuredMs = useDeskState(({ plugged }) => plugged.inputs[source]?.delayMs ?? null);
  const [proving, setProving] = useState(false);
  const [said, setSaid] = useState('');
  const id = outletOfLine(seat.id);
  const input = choices.inputs.find((one) => one.source === source) ?? null;
  const outlet = choices.outlets.find((one) => one.id === id) ?? null;
  const far = input && outlet && farEndsInWords(devices.known, input.device, outlet.device);
  const send = (change: { device?: string; channels?: 'stereo' | 'left' | 'right'; offsetMs?: number }) => {
    const device = change.device ?? outlet?.device ?? '';
    const next = device === '' ? null : { listener: listenerOfLine(seat), device, channels: change.channels ?? outlet?.channels ?? 'stereo', offsetMs: change.offsetMs ?? outlet?.offsetMs ?? 0 };
    setSaid(desk.devices.chooseOutlet(id, next) ?? '');
  };
  return (
    <Box mt="8px">
      <Flex gap="10px" align="end">
        <DeviceSelect label={`I hear ${seat.name} by`} kind="input" value={input?.device ?? ''} none="no input" onChange={(device) => desk.devices.chooseInput(source, device === '' ? null : { device, channels: input?.channels ?? 'both' })} />
        <ChannelSelect label={`Channels of ${seat.name}’s input`} words={INPUT_CHANNEL_WORDS} value={input?.channels ?? 'both'} onChange={(channels) => input && desk.devices.chooseInput(source, { device: input.device, channels })} />
      </Flex>
      <Flex gap="10px" align="end" mt="8px">
        <DeviceSelect label={`${seat.name} hears me by`} kind="output" value={outlet?.device ?? ''} none="no output" onChange={(device) => send({ device })} />
        <ChannelSelect label={`Channels of ${seat.name}’s output`} words={OUTPUT_CHANNEL_WORDS} value={outlet?.channels ?? 'stereo'} onChange={(channels) => send({ channels })} />
      </Flex>
      {far && (
        <Text fontSize="13px" color="soft" mt="6px">
          In the other program: microphone “{far.microphone}”, loudspeaker “{far.loudspeaker}”.
        </Text>
      )}
      <Flex gap="14px" mt="8px" align="center" wrap="wrap">
        <SourceOffset source={source} name={seat.name} measuredMs={measuredMs} />
        {outlet && !isMadeUp(outlet.device) && <OffsetField label={`Delay ${seat.name}’s return by`} value={outlet.offsetMs} onSet={(offsetMs) => send({ offsetMs })} />}
        {input && outlet && !proving && (
          <ControlButton h="30px" aria-label={`Prove the line of ${seat.name}`} onClick={() => setProving(true)}>
            Prove the line
          </ControlButton>
        )}
      </Flex>
      <Text role="alert" fontSize="13px" color="ember">
        {said}
      </Text>
      {proving && (
        <Box mt="10px" p="12px" bg="ground" borderRadius="control">
          <LineProofStep seat={seat} onDone={() => setProving(false)} />
        </Box>
      )}
    </Box>
  );
}

/** How much later a source comes into every mix; its track is not shifted. */
export function SourceOffset({ source, name, measuredMs }: { source: SourceId; name: string; measuredMs: number | null }) {
  const desk = useDesk();
  const offsetMs = useDeskState(({ plan }) => sourceSettings(plan, source).offsetMs);
  const set = (ms: number) => desk.plan.change((plan) => setSource(plan, source, { offsetMs: ms }), `offset:${source}`);
  return (
    <Flex align="center" gap="8px">
      <OffsetField label={`Delay ${name} in the mixes by`} value={offsetMs} onSet={set} />
      {measuredMs !== null && measuredMs > 0 && Math.round(measuredMs) !== offsetMs && (
        <ControlButton h="26px" fontSize="12.5px" onClick={() => set(Math.round(measuredMs))}>
          {Math.round(measuredMs)} ms, as measured
        </ControlButton>
      )}
    </Flex>
  );
}

export function OffsetField({ label, value, onSet }: { label: string; value: number; onSet(ms: number): void }) {
  return (
    <Flex as="label" align="center" gap="6px" fontSize="13px" color="soft">
      {label}
      <Input
        type="number"
        size="xs"
        w="70px"
        min={0}
        max={MOST_OFFSET_MS}
        aria-label={`${label}, ms`}
        value={value}
        borderColor="hairline"
        color="text"
        onChange={(event) => {
          const next = event.target.valueAsNumber;
          if (next >= 0 && next <= MOST_OFFSET_MS) onSet(next);
        }}
      />
      ms
    </Flex>
  );
}
