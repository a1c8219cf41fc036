'use client';

import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { Music, Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { DESK_ACTION_NAMES, KEY_PATTERN, keyTakenBy } from '@/core/session/desk-actions';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { KIND_WORDS, levellingGainDb, SOUND_KINDS, type SoundKind } from '@/core/sounds/sound-kind';
import { getJson, sendJson } from '@/live/api';
import type { DeskSession } from '@/live/desk/desk-session';
import { formatDb, formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { PadKey } from './pad-key';
import { SoundImport } from './sound-import';

const RATE = 48000;

/** The show's sounds: brought in, levelled, and put on the pads of this episode. */
export function SoundsPanel() {
  const desk = useDesk();
  const pads = useDeskState((state) => state.pads);
  const [sounds, setSounds] = useState<LibrarySound[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const address = `/api/shows/${desk.data.episode.showId}/sounds`;
  useEffect(() => {
    getJson<LibrarySound[]>(address).then(setSounds, (error: Error) => setTrouble(error.message));
  }, [address]);
  const replace = (next: LibrarySound) => setSounds((all) => all.map((one) => (one.id === next.id ? next : one)));
  return (
    <Panel title="Sounds" aside={`${pads.length} ${pads.length === 1 ? 'pad' : 'pads'}`}>
      {sounds.map((sound) => (
        <SoundRow key={sound.id} sound={sound} onChange={replace} onRemoved={() => setSounds((all) => all.filter(({ id }) => id !== sound.id))} onTrouble={setTrouble} />
      ))}
      <SoundImport onImported={(sound) => setSounds((all) => [...all, sound].sort((a, b) => a.name.localeCompare(b.name)))} />
      <Text role="alert" fontSize="13px" color="ember" mt="4px">
        {trouble}
      </Text>
    </Panel>
  );
}

interface SoundRowProps {
  sound: LibrarySound;
  onChange(sound: LibrarySound): void;
  onRemoved(): void;
  onTrouble(words: string | null): void;
}

function SoundRow({ sound, onChange, onRemoved, onTrouble }: SoundRowProps) {
  const desk = useDesk();
  const pad = useDeskState(({ pads }) => pads.find((one) => one.sound === sound.id));
  const tell = (error: Error) => onTrouble(error.message);
  const arrange = (change: Parameters<typeof arranged>[2]) => desk.pads.arrange(arranged(desk, sound, change)).then(() => onTrouble(null), tell);
  const setKind = async (kind: SoundKind) => {
    const measured = sound.integratedLufs !== null && sound.truePeakDb !== null;
    const gainDb = measured ? levellingGainDb(kind, sound.integratedLufs!, sound.truePeakDb!) : sound.gainDb;
    onChange(await sendJson<LibrarySound>('PUT', `/api/sounds/${sound.id}`, { kind, gainDb }));
    if (pad) await arrange('again');
  };
  return (
    <Box as="article" aria-label={sound.name} py="7px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Flex align="center" gap="8px">
        <Box color={pad ? 'lamp' : 'faint'} aria-hidden>
          <Music size={16} />
        </Box>
        <Text flex="1" minW="0" truncate fontSize="14.5px" fontWeight="600">
          {sound.name}
        </Text>
        {pad ? (
          <>
            <PadKey name={sound.name} value={pad.key} onKey={(key) => tryKey(desk, sound, key, (chosen) => void arrange({ key: chosen }), onTrouble)} />
            <ControlButton h="28px" px="9px" fontSize="13px" aria-label={`Take ${sound.name} off its pad`} onClick={() => void arrange(null)}>
              Off the pad
            </ControlButton>
          </>
        ) : (
          <>
            <ControlButton h="28px" px="9px" fontSize="13px" aria-label={`Put ${sound.name} on a pad`} onClick={() => void arrange('new')}>
              <Plus size={14} /> Pad
            </ControlButton>
            <ControlButton h="28px" px="9px" fontSize="13px" aria-label={`Remove ${sound.name} from the library`} onClick={() => void sendJson('DELETE', `/api/sounds/${sound.id}`).then(onRemoved, tell)}>
              Remove
            </ControlButton>
          </>
        )}
      </Flex>
      <Flex align="center" gap="10px" mt="4px" pl="24px" fontSize="12.5px" color="soft" wrap="wrap">
        <NativeSelect.Root size="xs" w="92px">
          <NativeSelect.Field aria-label={`Kind of ${sound.name}`} value={sound.kind} bg="ground" borderColor="hairline" color="text" onChange={(event) => void setKind(event.target.value as SoundKind).catch(tell)}>
            {SOUND_KINDS.map((kind) => (
              <option key={kind} value={kind} title={KIND_WORDS[kind]}>
                {kind}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Text>
          {formatDuration(sound.lengthSamples / RATE)}
          {sound.integratedLufs !== null && ` · ${sound.integratedLufs.toFixed(1).replace('-', '−')} LUFS`}
          {sound.truePeakDb !== null && `, peak ${sound.truePeakDb.toFixed(1).replace('-', '−')} dBTP`}
          {` · played at ${formatDb(sound.gainDb)}`}
        </Text>
        {pad && (
          <ControlButton h="24px" px="8px" fontSize="12.5px" tone={pad.loops ? 'lit' : 'plain'} aria-pressed={pad.loops} aria-label={`Loop ${sound.name}`} onClick={() => void arrange({ loops: !pad.loops })}>
            Loop
          </ControlButton>
        )}
      </Flex>
    </Box>
  );
}

/** The board with one sound changed: put on, taken off (null), or as it is once more. */
function arranged(desk: DeskSession, sound: LibrarySound, change: 'new' | 'again' | null | { key?: string; loops?: boolean }) {
  const { pads, plan, keys } = desk.store.getState();
  if (change === null) return pads.filter((pad) => pad.sound !== sound.id);
  if (change === 'again') return pads;
  if (change !== 'new') return pads.map((pad) => (pad.sound === sound.id ? { ...pad, ...change } : pad));
  const player = (sound.kind === 'bed' && plan.players.find(({ id }) => id === 'bed')) || plan.players[0];
  const taken = new Set([...pads.map(({ key }) => key), ...DESK_ACTION_NAMES.map((action) => keys[action])]);
  const key = [...'1234567890fghjklzvbniopasy'].find((one) => !taken.has(one)) ?? '';
  const pad = { sound: sound.id, name: sound.name, player: player?.id ?? 'effects', key, loops: sound.kind === 'bed', levelDb: 0, gainDb: sound.gainDb, lengthSamples: sound.lengthSamples };
  return [...pads, pad];
}

function tryKey(desk: DeskSession, sound: LibrarySound, key: string, choose: (key: string) => void, say: (words: string | null) => void): void {
  if (!KEY_PATTERN.test(key)) return say('Only keys that type a letter, a digit or a sign can be used.');
  const { keys, pads } = desk.store.getState();
  const taken = keyTakenBy(key, keys, pads.filter((pad) => pad.sound !== sound.id));
  if (taken) return say(`${key.toUpperCase()} is taken: ${taken}.`);
  choose(key);
}
