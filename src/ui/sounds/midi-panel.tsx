'use client';

import { Flex, NativeSelect, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { sourcesOf } from '@/core/hearing/plan';
import { DESK_ACTION_NAMES, DESK_ACTIONS } from '@/core/session/desk-actions';
import type { MidiBinding, MidiMessage, MidiTarget } from '@/core/session/midi-bindings';
import type { MidiState } from '@/live/desk/desk-state';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { SimulatedController } from './simulated-controller';

const STATE_WORDS: Record<MidiState['state'], string> = {
  off: 'Pads and levels can be worked from a MIDI controller. The desk works without one.',
  on: 'Listening.',
  missing: 'This browser has no MIDI.',
  refused: 'The browser was not allowed to use MIDI devices. Allow it in the address bar, then connect again.',
};

/** Controllers at the desk, and what each of their notes and knobs does. */
export function MidiPanel() {
  const desk = useDesk();
  const { state, inputs, simulated, learning, bindings, last } = useDeskState(({ midi }) => midi);
  const words = useTargetWords();
  return (
    <Panel title="Controllers" aside="MIDI">
      <Text fontSize="13px" color="soft" role="status">
        {state === 'on' && inputs.length === 0 ? 'Listening, but there is no device yet.' : STATE_WORDS[state]} {inputs.join(', ')}
      </Text>
      <Flex gap="6px" my="6px" wrap="wrap">
        <ControlButton h="28px" px="10px" fontSize="13px" onClick={() => void desk.midi.connect()}>
          Connect controllers
        </ControlButton>
        <ControlButton h="28px" px="10px" fontSize="13px" aria-pressed={simulated} tone={simulated ? 'lit' : 'plain'} onClick={() => desk.midi.showSimulated(!simulated)}>
          Practice controller
        </ControlButton>
      </Flex>
      {simulated && <SimulatedController onMessage={(message) => desk.midi.take(message)} />}
      <Learn learning={learning} words={words} />
      {bindings.map((binding) => (
        <Binding key={`${binding.message}-${binding.channel}-${binding.number}`} binding={binding} words={words(binding.target)} onForget={() => desk.midi.forget(binding)} />
      ))}
      {last && (
        <Text fontSize="12.5px" color="soft" mt="4px">
          last heard: {messageWords(last)}, {last.value}
        </Text>
      )}
    </Panel>
  );
}

function Learn({ learning, words }: { learning: MidiTarget | null; words(target: MidiTarget): string }) {
  const desk = useDesk();
  const pads = useDeskState((state) => state.pads);
  const plan = useDeskState((state) => state.plan);
  const [place, setPlace] = useState(0);
  const targets: MidiTarget[] = [
    ...pads.map(({ sound }): MidiTarget => ({ does: 'pad', sound })),
    ...sourcesOf(plan)
      .filter(({ kind }) => kind !== 'talkback')
      .map(({ id }): MidiTarget => ({ does: 'gain', source: id })),
    ...DESK_ACTION_NAMES.map((action): MidiTarget => ({ does: 'action', action })),
  ];
  if (learning) {
    return (
      <Flex align="center" gap="8px" my="6px">
        <Text role="status" fontSize="13.5px" color="tide" flex="1">
          {learning.does === 'gain' ? 'Turn a knob or move a fader' : 'Press a pad or a key'} of your controller for: {words(learning)}.
        </Text>
        <ControlButton h="26px" px="9px" fontSize="13px" onClick={() => desk.midi.learn(null)}>
          Never mind
        </ControlButton>
      </Flex>
    );
  }
  return (
    <Flex gap="6px" my="6px">
      <NativeSelect.Root size="xs" flex="1" minW="0">
        <NativeSelect.Field aria-label="What a controller should do" value={String(place)} bg="ground" borderColor="hairline" onChange={(event) => setPlace(Number(event.target.value))}>
          {targets.map((target, k) => (
            <option key={JSON.stringify(target)} value={String(k)}>
              {words(target)}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <ControlButton h="26px" px="9px" fontSize="13px" disabled={targets.length === 0} onClick={() => desk.midi.learn(targets[Math.min(place, targets.length - 1)])}>
        Learn
      </ControlButton>
    </Flex>
  );
}

function Binding({ binding, words, onForget }: { binding: MidiBinding; words: string; onForget(): void }) {
  return (
    <Flex align="center" gap="8px" py="2px" fontSize="13px">
      <Text flex="1" minW="0" truncate>
        {messageWords(binding)}: {words}
      </Text>
      <ControlButton h="24px" px="8px" fontSize="12.5px" aria-label={`Forget ${messageWords(binding)}`} onClick={onForget}>
        Forget
      </ControlButton>
    </Flex>
  );
}

const messageWords = ({ message, channel, number }: Pick<MidiMessage, 'message' | 'channel' | 'number'>): string => `${message} ${number}${channel > 1 ? ` (channel ${channel})` : ''}`;

function useTargetWords(): (target: MidiTarget) => string {
  const pads = useDeskState((state) => state.pads);
  const plan = useDeskState((state) => state.plan);
  return (target) => {
    switch (target.does) {
      case 'pad':
        return `pad ${pads.find(({ sound }) => sound === target.sound)?.name ?? 'of another board'}`;
      case 'gain':
        return `gain of ${sourcesOf(plan).find(({ id }) => id === target.source)?.name ?? 'somebody not here'}`;
      case 'action':
        return DESK_ACTIONS[target.action].words;
    }
  };
}
