'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Box, chakra, Flex, Input, NativeSelect, Text } from '@chakra-ui/react';
import { GripVertical } from 'lucide-react';
import { useState } from 'react';
import type { DeskPad } from '@/core/session/desk-data';
import { AGAIN_WORDS, MODE_WORDS, PAD_MODES, PRESS_AGAIN, type PadMode, type PressAgain } from '@/core/sounds/pad-modes';
import { SelectOptions } from '../select-options';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { KeyField } from '../shell/key-field';
import { changePad, keyForPad } from './board-moves';

const Grip = chakra('button');

/** One pad as it is arranged: its place, key, player, and what a press does. */
export function PadRow({ pad, onSaid }: { pad: DeskPad; onSaid(words: string): void }) {
  const desk = useDesk();
  const players = useDeskState(({ plan }) => plan.players);
  const [group, setGroup] = useState(pad.group ?? '');
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: pad.sound });
  const change = (next: Parameters<typeof changePad>[2], words = () => '') =>
    void changePad(desk, pad.sound, next).then(
      () => onSaid(words()),
      (error: Error) => onSaid(error.message),
    );
  const chooseKey = (key: string) => {
    if (key === 'backspace' || key === 'delete') return change({ key: '' }, () => `${pad.name} has no key now.`);
    const meaning = keyForPad(desk, pad.sound, key);
    if ('refused' in meaning) return onSaid(meaning.refused);
    // Asked again when the change is kept: another pad may have been given this key just before.
    change({ key }, () => {
      const now = keyForPad(desk, pad.sound, key);
      return 'shared' in now && now.shared.length > 0 ? `${key.toUpperCase()} starts ${[pad.name, ...now.shared].join(' and ')} together, on the same sample.` : '';
    });
  };
  return (
    <Box
      ref={setNodeRef}
      as="article"
      aria-label={`Pad ${pad.name}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      position="relative"
      zIndex={isDragging ? 1 : undefined}
      bg={isDragging ? 'raised' : undefined}
      py="7px"
      borderTopWidth="1px"
      borderColor="hairline"
    >
      <Flex align="center" gap="6px">
        <Grip ref={setActivatorNodeRef} type="button" {...attributes} {...listeners} aria-label={`Move the pad ${pad.name}`} color="faint" cursor="grab" p="2px" touchAction="none">
          <GripVertical size={16} />
        </Grip>
        <Text flex="1" minW="0" truncate fontSize="14.5px" fontWeight="600">
          {pad.name}
        </Text>
        <KeyField label={`Key of ${pad.name}`} value={pad.key} onKey={chooseKey} />
        <ControlButton
          h="26px"
          px="9px"
          fontSize="13px"
          aria-label={`Remove the pad ${pad.name}`}
          onClick={() => void desk.pads.arrange((pads) => pads.filter(({ sound }) => sound !== pad.sound)).then(() => onSaid(''), (error: Error) => onSaid(error.message))}
        >
          Remove
        </ControlButton>
      </Flex>
      <Flex align="center" gap="5px" mt="5px" pl="24px" wrap="wrap">
        <Choice label={`How ${pad.name} plays`} value={pad.mode} width="118px" options={PAD_MODES.map((mode) => [mode, MODE_WORDS[mode]])} onChange={(mode) => change({ mode: mode as PadMode })} />
        <Choice label={`Pressing ${pad.name} again`} value={pad.again} width="112px" options={PRESS_AGAIN.map((again) => [again, AGAIN_WORDS[again]])} onChange={(again) => change({ again: again as PressAgain })} />
        <Choice label={`Player of ${pad.name}`} value={pad.player} width="80px" options={players.map(({ id, name }) => [id, name])} onChange={(player) => change({ player })} />
        <Input
          size="xs"
          w="74px"
          maxLength={30}
          aria-label={`Group of ${pad.name}`}
          title="Sounds of one group give way to each other: a new one crossfades with the one that plays."
          placeholder="no group"
          value={group}
          borderColor="hairline"
          onChange={(event) => setGroup(event.target.value)}
          onBlur={() => group.trim() !== (pad.group ?? '') && change({ group: group.trim() || null })}
        />
      </Flex>
    </Box>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  width: string;
  options: [value: string, words: string][];
  onChange(value: string): void;
}

function Choice({ label, value, width, options, onChange }: ChoiceProps) {
  return (
    <NativeSelect.Root size="xs" w={width}>
      <NativeSelect.Field aria-label={label} value={value} bg="ground" borderColor="hairline" onChange={(event) => onChange(event.target.value)}>
        <SelectOptions options={options} />
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}
