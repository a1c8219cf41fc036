'use client';

import { Checkbox, Flex, NativeSelect, Text } from '@chakra-ui/react';
import type { LineSettings } from '@/core/lines/line-settings';
import type { DeskSeat } from '@/core/session/desk-data';

const VOICE_KBPS = [32, 64, 96, 128, 256];
const RETURN_KBPS = [32, 64, 128, 192, 256];

/** How a link's sound is coded each way. */
export function LineCoding({ seat, settings, onChange }: { seat: DeskSeat; settings: LineSettings; onChange(settings: LineSettings): void }) {
  return (
    <Flex gap="8px 14px" mt="10px" fontSize="13px" color="soft" align="center" wrap="wrap">
      <Rate words="voice in" label={`Bitrate of ${seat.name}’s voice`} value={settings.voiceKbps} choices={VOICE_KBPS} onChange={(voiceKbps) => onChange({ ...settings, voiceKbps })} />
      <Rate words="return out" label={`Bitrate of ${seat.name}’s return`} value={settings.returnKbps} choices={RETURN_KBPS} onChange={(returnKbps) => onChange({ ...settings, returnKbps })} />
      <Checkbox.Root size="sm" title="On air it changes when the line next connects." checked={settings.stereoReturn} onCheckedChange={({ checked }) => onChange({ ...settings, stereoReturn: checked === true })}>
        <Checkbox.HiddenInput />
        <Checkbox.Control borderColor="faint" />
        <Checkbox.Label fontWeight="400">stereo return</Checkbox.Label>
      </Checkbox.Root>
    </Flex>
  );
}

function Rate({ words, label, value, choices, onChange }: { words: string; label: string; value: number; choices: number[]; onChange(kbps: number): void }) {
  return (
    <Flex align="center" gap="6px">
      <Text>{words}</Text>
      <NativeSelect.Root size="xs" w="108px">
        <NativeSelect.Field aria-label={label} value={value} bg="ground" borderColor="hairline" color="text" onChange={(event) => onChange(Number(event.target.value))}>
          {[...new Set([...choices, value])].sort((a, b) => a - b).map((kbps) => (
            <option key={kbps} value={kbps}>
              {kbps} kbit/s
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Flex>
  );
}
