'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { listenersOf, type Listener } from '@/core/hearing/plan';
import type { HostVoice } from '@/live/desk/desk-state';
import { useFrame } from '../frame';
import { formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Whose mix the host hears: their own, the program, or what any guest hears. */
export function PhonesPanel() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  const hearAs = useDeskState((state) => state.hearAs);
  const running = useDeskState((state) => state.call === 'running');
  const listeners = listenersOf(plan);
  const phones = listeners.findIndex(({ kind }) => kind === 'phones');
  return (
    <Panel title="In my phones" aside={<PhonesLevel slot={phones} />}>
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
                h="32px"
                borderRadius="full"
                tone={chosen ? 'tide' : 'plain'}
                disabled={!running}
                onClick={() => desk.hearAs(value)}
              >
                {mixName(listener)}
              </ControlButton>
            );
          })}
      </Flex>
      <VoiceNote />
    </Panel>
  );
}

const mixName = (listener: Listener): string =>
  listener.kind === 'phones' ? 'My mix' : listener.kind === 'program' ? 'Program' : `As ${listener.name}`;

function PhonesLevel({ slot }: { slot: number }) {
  const desk = useDesk();
  const text = useRef<HTMLSpanElement>(null);
  useFrame(() => {
    const peak = desk.board()?.listenerPeak[slot] ?? 0;
    const words = peak === 0 ? 'silent' : `peak ${formatLevel(20 * Math.log10(peak))} dB`;
    if (text.current && text.current.textContent !== words) text.current.textContent = words;
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
    <Box mt="10px" pt="10px" borderTopWidth="1px" borderColor="hairline" fontSize="13.5px">
      <Text role="status">{voiceInWords(voice)}</Text>
      <ControlButton mt="7px" h="30px" onClick={() => void desk.choosePractice(!preferPractice && voice.from === 'microphone')}>
        {voice.from === 'microphone' ? 'Use the simulated voice' : 'Try my microphone'}
      </ControlButton>
    </Box>
  );
}

function voiceInWords(voice: HostVoice): string {
  switch (voice.from) {
    case 'microphone':
      return `Your voice comes from ${voice.label}.`;
    case 'practice':
      return `Your voice is simulated: ${voice.reason}.`;
    case 'nothing':
      return 'Your voice comes from nowhere at the moment.';
  }
}
