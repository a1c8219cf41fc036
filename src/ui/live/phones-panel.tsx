'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { setListener } from '@/core/hearing/edit';
import { listenersOf, listenerSettings, type Listener } from '@/core/hearing/plan';
import type { HostVoice } from '@/live/desk/desk-state';
import { useReading } from '../frame';
import { formatDb, formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { KeyCap } from '../shell/key-cap';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';
import { useDesk, useDeskState } from '../shell/desk-context';
import { EngineNote } from './engine-note';
import { setText } from '../set-text';

/** Whose mix the host hears: their own, the program, or what any guest hears. */
export function PhonesPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const listenTo = useDeskState((state) => state.onAir.listenTo);
  const hearAs = listenTo === null ? null : 'listener' in listenTo ? listenTo.listener : 'a source';
  const running = useDeskState((state) => state.call === 'running');
  const listeners = listenersOf(plan);
  const phones = listeners.find(({ kind }) => kind === 'phones');
  return (
    <Panel title="In my phones" aside={<PhonesLevel slot={phones ? desk.plan.compiled().listenerIds.indexOf(phones.id) : -1} />}>
      <Flex role="radiogroup" aria-label="Whose mix is in my phones" wrap="wrap" gap="7px">
        {listeners
          .filter(({ kind }) => kind !== 'feed')
          .map((listener) => {
            const value = listener.kind === 'phones' ? null : listener.id;
            const chosen = hearAs === value;
            return (
              <ControlButton
                key={listener.id}
                role="radio"
                aria-checked={chosen}
                h="29px"
                px="11px"
                fontSize="13.5px"
                borderRadius="full"
                tone={chosen ? 'tide' : 'plain'}
                disabled={!running}
                onClick={() => desk.hands.hearAs(value)}
              >
                {mixName(listener)}
              </ControlButton>
            );
          })}
      </Flex>
      {phones && <PhonesVolume listener={phones} />}
      <VoiceNote />
      <EngineNote />
    </Panel>
  );
}

/** How loud the phones are, and the quick way down. */
function PhonesVolume({ listener }: { listener: Listener }) {
  const desk = useDesk();
  const levelDb = useDeskState(({ plan }) => listenerSettings(plan, listener.id).levelDb);
  const dim = useDeskState(({ onAir }) => onAir.phonesDim);
  const key = useDeskState(({ keys }) => keys.dim);
  return (
    <Flex align="center" gap="10px" mt="10px">
      <Box flex="1">
        <LevelSlider
          label="Level of my phones"
          value={levelDb}
          min={-36}
          max={12}
          onChange={(db) => desk.plan.change((plan) => setListener(plan, listener.id, { levelDb: db }), 'phones level')}
        />
      </Box>
      <Text fontSize="13px" minW="44px" textAlign="right">
        {formatDb(levelDb)}
      </Text>
      <ControlButton h="30px" px="10px" tone={dim ? 'tide' : 'plain'} aria-pressed={dim} onClick={() => desk.hands.dimPhones(!dim)}>
        Dim <KeyCap>{key.toUpperCase()}</KeyCap>
      </ControlButton>
    </Flex>
  );
}

const mixName = (listener: Listener): string =>
  listener.kind === 'phones' ? 'My mix' : listener.kind === 'program' ? 'Program' : `As ${listener.name}`;

function PhonesLevel({ slot }: { slot: number }) {
  const desk = useDesk();
  const text = useRef<HTMLSpanElement>(null);
  useReading(() => {
    const peak = desk.board()?.listenerPeak[slot] ?? 0;
    setText(text.current, peak === 0 ? 'silent' : `peak ${formatLevel(20 * Math.log10(peak))} dB`);
  });
  return <span ref={text}>silent</span>;
}

/** Which voice is the host's, and the way to the other one. */
function VoiceNote() {
  const desk = useDesk();
  const voice = useDeskState((state) => state.voice);
  const running = useDeskState((state) => state.call === 'running');
  const preferPractice = useDeskState((state) => state.preferPractice);
  if (!running) return null;
  return (
    <Flex mt="8px" pt="8px" borderTopWidth="1px" borderColor="hairline" fontSize="13px" align="center" gap="8px">
      <Text role="status" flex="1" lineHeight="1.3">
        {voiceInWords(voice)}
      </Text>
      <ControlButton h="30px" px="10px" fontSize="13px" onClick={() => void desk.choosePractice(!preferPractice && voice.from === 'microphone')}>
        {voice.from === 'microphone' ? 'Simulate it' : 'Try my microphone'}
      </ControlButton>
    </Flex>
  );
}

function voiceInWords(voice: HostVoice): string {
  switch (voice.from) {
    case 'microphone':
      return `Your voice comes from ${voice.label}.`;
    case 'practice':
      return `Your voice is simulated: ${voice.reason}.`;
    case 'lost':
      return `${voice.label} went away. It is taken up again when it is back.`;
    case 'nothing':
      return `You have no voice in this call: ${voice.reason}.`;
  }
}
