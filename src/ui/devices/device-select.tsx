'use client';

import { Box, NativeSelect } from '@chakra-ui/react';
import { namesOf } from '@/core/devices/known-devices';
import type { DeviceKind, KnownDevice } from '@/core/devices/device';
import type { PluggedState } from '@/live/devices/plugged-state';
import { useDeskState } from '../shell/desk-context';

interface DeviceSelectProps {
  label: string;
  kind: DeviceKind;
  value: string;
  /** What stands for no device; absent where one must be chosen. */
  none?: string;
  onChange(key: string): void;
}

/**
 * Made-up devices are offered where there are no others, where one is in use, or where the host asked for them. Outputs that the
 * browser could not use are not offered.
 */
export function offered({ devices, choices }: Pick<PluggedState, 'devices' | 'choices'>, kind: DeviceKind): KnownDevice[] {
  const all = devices.known.filter((device) => device.kind === kind);
  const used = new Set([...choices.inputs, ...choices.outlets].map(({ device }) => device));
  const madeUp = devices.offersMadeUp || all.every(({ simulated, here }) => simulated || !here) || all.some(({ simulated, key }) => simulated && used.has(key));
  const usable = kind === 'input' || devices.canChooseOutputs;
  return all.filter(({ simulated, here, key }) => (simulated ? madeUp : (here && usable) || used.has(key)));
}

/** One device of this computer, by the name the host knows it by; one that is away says so. */
export function DeviceSelect({ label, kind, value, none, onChange }: DeviceSelectProps) {
  const plugged = useDeskState((state) => state.plugged);
  const devices = offered(plugged, kind);
  const names = namesOf(plugged.devices.known);
  return (
    <Box as="label" fontSize="13px" color="soft" flex="1" minW="0" display="block">
      {label}
      <NativeSelect.Root size="sm" mt="3px">
        <NativeSelect.Field aria-label={label} bg="ground" borderColor="hairline" color="text" value={value} onChange={(event) => onChange(event.target.value)}>
          {none !== undefined && <option value="">{none}</option>}
          {value !== '' && !devices.some(({ key }) => key === value) && <option value={value}>a device not known here</option>}
          {devices.map(({ key, here }) => (
            <option key={key} value={key}>
              {names.get(key)}
              {here ? '' : ' (away)'}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}

interface ChannelSelectProps<Channels extends string> {
  label: string;
  words: Record<Channels, string>;
  value: Channels;
  onChange(channels: Channels): void;
}

/** Which channels of a device. */
export function ChannelSelect<Channels extends string>({ label, words, value, onChange }: ChannelSelectProps<Channels>) {
  return (
    <Box as="label" fontSize="13px" color="soft" flex="none" w={{ base: '142px', xl: '176px' }} display="block">
      Channels
      <NativeSelect.Root size="sm" mt="3px">
        <NativeSelect.Field aria-label={label} bg="ground" borderColor="hairline" color="text" value={value} onChange={(event) => onChange(event.target.value as Channels)}>
          {(Object.entries(words) as [Channels, string][]).map(([channels, text]) => (
            <option key={channels} value={channels}>
              {text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
