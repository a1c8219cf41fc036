'use client';

import { Box, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { Music, Pencil, Plus } from 'lucide-react';
import NextLink from 'next/link';
import { useState } from 'react';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { KIND_WORDS, levellingGainDb, SOUND_KINDS, type SoundKind } from '@/core/sounds/sound-kind';
import type { SoundSettings } from '@/core/sounds/sound-settings';
import { sendJson } from '@/live/api';
import { formatDb, formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { withPad } from './board-moves';
import { SoundImport } from './sound-import';

const RATE = 48000;
const Link = chakra(NextLink);

interface LibraryPanelProps {
  sounds: LibrarySound[];
  onSounds(change: (all: LibrarySound[]) => LibrarySound[]): void;
  onChange(sound: LibrarySound): void;
  onEdit(sound: string): void;
}

/** The show's sounds: brought in, levelled, edited, and put on the pads of this episode. */
export function LibraryPanel({ sounds, onSounds, onChange, onEdit }: LibraryPanelProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  return (
    <Panel title="Library" aside={`${sounds.length} ${sounds.length === 1 ? 'sound' : 'sounds'} of this show`}>
      {sounds.length === 0 && (
        <Text fontSize="14px" color="soft">
          Nothing here yet. Add your theme, a bed or a clip; each is brought to its level by itself.
        </Text>
      )}
      {sounds.map((sound) => (
        <SoundRow
          key={sound.id}
          sound={sound}
          onChange={onChange}
          onEdit={() => onEdit(sound.id)}
          onRemoved={() => onSounds((all) => all.filter(({ id }) => id !== sound.id))}
          onTrouble={setTrouble}
        />
      ))}
      {sounds.length > 0 && <LevelAll sounds={sounds} onChange={onChange} />}
      <SoundImport onImported={(sound) => onSounds((all) => [...all, sound].sort((a, b) => a.name.localeCompare(b.name)))} />
      <Text role="alert" fontSize="13px" color="ember" mt="4px">
        {trouble}
      </Text>
    </Panel>
  );
}

/** Brings every sound to the level of its kind, where the levels of the show were changed. */
function LevelAll({ sounds, onChange }: Pick<LibraryPanelProps, 'sounds' | 'onChange'>) {
  const desk = useDesk();
  const settings = useDeskState((state) => state.soundSettings);
  const [said, setSaid] = useState('');
  const levelAll = async (): Promise<void> => {
    let changed = 0;
    for (const sound of sounds) {
      const gainDb = levelled(sound, sound.kind, settings);
      if (Math.abs(gainDb - sound.gainDb) < 0.05) continue;
      onChange(await sendJson<LibrarySound>('PUT', `/api/sounds/${sound.id}`, { gainDb }));
      changed++;
    }
    setSaid(changed === 0 ? 'All are at their level already.' : `${changed} of ${sounds.length} were brought to their level.`);
  };
  return (
    <Flex align="center" gap="10px" mt="8px" pt="8px" borderTopWidth="1px" borderColor="hairline" wrap="wrap">
      <ControlButton h="28px" fontSize="13px" onClick={() => void levelAll().catch((error: Error) => setSaid(error.message))}>
        Bring all to their level again
      </ControlButton>
      <Link href={`/episodes/${desk.data.episode.id}/settings`} fontSize="13px" color="soft" textDecoration="underline">
        Show the levels
      </Link>
      <Text role="status" fontSize="13px" color="soft">
        {said}
      </Text>
    </Flex>
  );
}

interface SoundRowProps {
  sound: LibrarySound;
  onChange(sound: LibrarySound): void;
  onEdit(): void;
  onRemoved(): void;
  onTrouble(words: string | null): void;
}

function SoundRow({ sound, onChange, onEdit, onRemoved, onTrouble }: SoundRowProps) {
  const desk = useDesk();
  const onPad = useDeskState(({ pads }) => pads.some((one) => one.sound === sound.id));
  const settings = useDeskState((state) => state.soundSettings);
  const tell = (error: Error) => onTrouble(error.message);
  const { edit } = sound;
  const small = { h: '28px', px: '9px', fontSize: '13px' } as const;
  return (
    <Box as="article" aria-label={sound.name} py="7px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Flex align="center" gap="8px">
        <Box color={onPad ? 'lamp' : 'faint'} aria-hidden>
          <Music size={16} />
        </Box>
        <Text flex="1" minW="0" truncate fontSize="14.5px" fontWeight="600">
          {sound.name}
        </Text>
        <ControlButton {...small} aria-label={`Edit ${sound.name}`} onClick={onEdit}>
          <Pencil size={13} /> Edit
        </ControlButton>
        {onPad ? (
          <Text fontSize="13px" color="soft" px="4px">
            on a pad
          </Text>
        ) : (
          <>
            <ControlButton {...small} aria-label={`Put ${sound.name} on a pad`} onClick={() => void withPad(desk, sound).then(() => onTrouble(null), tell)}>
              <Plus size={14} /> Pad
            </ControlButton>
            <ControlButton {...small} aria-label={`Remove ${sound.name} from the library`} onClick={() => void sendJson('DELETE', `/api/sounds/${sound.id}`).then(onRemoved, tell)}>
              Remove
            </ControlButton>
          </>
        )}
      </Flex>
      <Flex align="center" gap="10px" mt="4px" pl="24px" fontSize="12.5px" color="soft" wrap="wrap">
        <NativeSelect.Root size="xs" w="92px">
          <NativeSelect.Field
            aria-label={`Kind of ${sound.name}`}
            value={sound.kind}
            bg="ground"
            borderColor="hairline"
            color="text"
            onChange={(event) => void changeKind(sound, event.target.value as SoundKind, settings).then(onChange, tell)}
          >
            {SOUND_KINDS.map((kind) => (
              <option key={kind} value={kind} title={KIND_WORDS[kind]}>
                {kind}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Text>
          {formatDuration((edit.outSample - edit.inSample) / RATE)}
          {edit.outSample - edit.inSample < sound.lengthSamples && ` of ${formatDuration(sound.lengthSamples / RATE)}`}
          {sound.integratedLufs !== null && ` · ${sound.integratedLufs.toFixed(1).replace('-', '−')} LUFS`}
          {sound.truePeakDb !== null && `, peak ${sound.truePeakDb.toFixed(1).replace('-', '−')} dBTP`}
          {` · played at ${formatDb(sound.gainDb)}`}
        </Text>
      </Flex>
    </Box>
  );
}

/** Another kind is another level: the sound is brought to it where it was measured. */
export function changeKind(sound: LibrarySound, kind: SoundKind, settings: SoundSettings): Promise<LibrarySound> {
  return sendJson<LibrarySound>('PUT', `/api/sounds/${sound.id}`, { kind, gainDb: levelled(sound, kind, settings) });
}

/** Gain that brings a sound to the show's level for a kind; what it has where it was never measured. */
export function levelled({ integratedLufs, truePeakDb, gainDb }: LibrarySound, kind: SoundKind, { levels, ceilingDbtp }: SoundSettings): number {
  return integratedLufs === null || truePeakDb === null ? gainDb : levellingGainDb(levels[kind], ceilingDbtp, integratedLufs, truePeakDb);
}
