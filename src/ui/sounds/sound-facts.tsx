'use client';

import { Box, Flex, Input, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { LibrarySound } from '@/core/sounds/library-sound';
import { KIND_WORDS, SOUND_KINDS, type SoundKind } from '@/core/sounds/sound-kind';
import { sendJson } from '@/live/api';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { changeKind, levelled } from './library-panel';

interface SoundFactsProps {
  sound: LibrarySound;
  onChange(sound: LibrarySound): void;
  onTrouble(words: string | null): void;
}

/** What is written of a sound, and how loud it is played. */
export function SoundFacts({ sound, onChange, onTrouble }: SoundFactsProps) {
  const settings = useDeskState((state) => state.soundSettings);
  const [name, setName] = useState(sound.name);
  const [notes, setNotes] = useState(sound.notes);
  const [credit, setCredit] = useState(sound.credit);
  const [gainDb, setGainDb] = useState(sound.gainDb);
  const tell = (error: Error) => onTrouble(error.message);
  const keep = (change: object) => sendJson<LibrarySound>('PUT', `/api/sounds/${sound.id}`, change).then(onChange, tell);
  const takeGain = (next: number) => {
    setGainDb(next);
    void keep({ gainDb: next });
  };
  return (
    <Flex gap="14px" align="end" wrap="wrap">
      <Labelled words="Name">
        <Input size="sm" w="220px" maxLength={80} value={name} borderColor="hairline" onChange={(event) => setName(event.target.value)} onBlur={() => name.trim() !== '' && name !== sound.name && void keep({ name })} />
      </Labelled>
      <Labelled words="Kind">
        <NativeSelect.Root size="sm" w="210px">
          <NativeSelect.Field
            value={sound.kind}
            bg="ground"
            borderColor="hairline"
            onChange={(event) =>
              void changeKind(sound, event.target.value as SoundKind, settings).then((changed) => {
                setGainDb(changed.gainDb);
                onChange(changed);
              }, tell)
            }
          >
            {SOUND_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {KIND_WORDS[kind]}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Labelled>
      <Labelled words="Credit, named on the air">
        <Input size="sm" w="180px" maxLength={120} value={credit} borderColor="hairline" onChange={(event) => setCredit(event.target.value)} onBlur={() => credit.trim() !== sound.credit && void keep({ credit })} />
      </Labelled>
      <Labelled words="Notes: composer, licence, where from">
        <Input size="sm" w="280px" maxLength={500} value={notes} borderColor="hairline" onChange={(event) => setNotes(event.target.value)} onBlur={() => notes !== sound.notes && void keep({ notes })} />
      </Labelled>
      <Box>
        <Text fontSize="12.5px" color="soft">
          Played at {formatDb(gainDb)}
          {/* Measured of the whole sound: of a part nobody knows. */}
          {sound.integratedLufs !== null && sound.edit.inSample === 0 && sound.edit.outSample === sound.lengthSamples && `, ${(sound.integratedLufs + gainDb).toFixed(1).replace('-', '−')} LUFS`}
        </Text>
        <Flex align="center" gap="10px" h="34px">
          <Box w="140px">
            <LevelSlider label="Gain of this sound" value={gainDb} min={-40} max={20} onChange={setGainDb} onChangeEnd={() => takeGain(gainDb)} />
          </Box>
          <ControlButton h="28px" fontSize="13px" onClick={() => takeGain(levelled(sound, sound.kind, settings))}>
            To its level
          </ControlButton>
        </Flex>
      </Box>
      <Text fontSize="12.5px" color="soft">
        from “{sound.fileName}”
      </Text>
    </Flex>
  );
}

function Labelled({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <label>
      <Text fontSize="12.5px" color="soft">
        {words}
      </Text>
      {children}
    </label>
  );
}
