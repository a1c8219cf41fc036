'use client';

import { Box, Checkbox, Flex, Text } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { declareCoupling } from '@/core/hearing/coupling';
import { returnOf, voiceOf } from '@/core/hearing/ids';
import { outletOfLine } from '@/core/hearing/wiring';
import type { DeskSeat } from '@/core/session/desk-data';
import { sendJson } from '@/live/api';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { DeviceSelect, offered } from './device-select';
import { farEndsInWords, freeCables } from './far-ends';
import { LineProofStep } from './line-proof-step';

/** Somebody who comes by another program, a telephone or from the same room: two devices, then proof of both directions. */
export function NewPairLine({ onDone }: { onDone(): void }) {
  const desk = useDesk();
  const plugged = useDeskState((state) => state.plugged);
  const used = new Set([...plugged.choices.inputs, ...plugged.choices.outlets].map(({ device }) => device));
  const free = freeCables(offered(plugged, 'input'), offered(plugged, 'output'), used);
  const [chosen, setChosen] = useState<{ input: string | null; output: string | null }>({ input: null, output: null });
  const [sameRoom, setSameRoom] = useState(false);
  const [made, setMade] = useState<DeskSeat | null>(null);
  const [trouble, setTrouble] = useState('');
  const input = chosen.input ?? free.input;
  const output = chosen.output ?? free.output;
  const far = farEndsInWords(plugged.devices.known, input, output);

  const add = async (event: FormEvent<HTMLFormElement>): Promise<void> => {
    event.preventDefault();
    const values = Object.fromEntries(new FormData(event.currentTarget));
    const fullName = String(values.fullName).trim();
    const people = String(values.people).split(',').map((one) => one.trim()).filter((one) => one !== '');
    if (input === '' || output === '') return setTrouble('Choose both devices: the one they are heard by, and the one their return leaves by.');
    try {
      const seat = await sendJson<DeskSeat>('POST', `/api/episodes/${desk.data.episode.id}/seats`, { name: people.length > 1 ? fullName : fullName.split(/\s+/)[0], fullName, line: 'pair', people: people.length > 1 ? people : [] });
      const { seats, invitations } = desk.store.getState();
      desk.devices.chooseInput(voiceOf(seat.id), { device: input, channels: 'both' });
      desk.devices.chooseOutlet(outletOfLine(seat.id), { listener: returnOf(seat.id), device: output, channels: 'stereo', offsetMs: 0 });
      desk.seats.set([...seats, seat], invitations);
      if (sameRoom) noteSameRoom(seat.id);
      setTrouble('');
      setMade(seat);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  /** Two microphones in one room hear both voices: the audit should know. */
  const noteSameRoom = (seat: string): void => {
    const host = desk.store.getState().seats.find(({ role }) => role === 'host')?.id ?? '';
    const couplings = [declareCoupling('same-room', voiceOf(host), voiceOf(seat)), declareCoupling('same-room', voiceOf(seat), voiceOf(host))];
    desk.plan.change((plan) => ({ ...plan, couplings: [...plan.couplings, ...couplings] }));
  };

  return (
    <Box as="form" aria-label="Add somebody by another program" mt="10px" p="12px" bg="ground" borderRadius="control" onSubmit={(event) => void add(event as unknown as FormEvent<HTMLFormElement>)}>
      {made ? (
        <LineProofStep seat={made} onDone={onDone} />
      ) : (
        <>
          <Flex gap="10px">
            <FormField label="Who it is" name="fullName" required maxLength={60} autoFocus placeholder="a person, or where several sit" />
            <FormField label="Several people there? Their names" name="people" maxLength={200} placeholder="Ana, Ben" />
          </Flex>
          <Flex gap="10px" mt="10px">
            <DeviceSelect label="I hear them by" kind="input" value={input} none="choose an input" onChange={(key) => setChosen({ ...chosen, input: key })} />
            <DeviceSelect label="They hear me by" kind="output" value={output} none="choose an output" onChange={(key) => setChosen({ ...chosen, output: key })} />
          </Flex>
          <Text fontSize="13.5px" color="soft" mt="8px">
            {far ? (
              <>
                In the other program choose <Strong>{far.microphone}</Strong> as its microphone and <Strong>{far.loudspeaker}</Strong> as its loudspeaker.
              </>
            ) : (
              'In the other program choose the far ends of these two as its microphone and its loudspeaker. For a telephone or somebody in the room: the channels they are plugged into.'
            )}
          </Text>
          <Checkbox.Root size="sm" mt="8px" checked={sameRoom} onCheckedChange={({ checked }) => setSameRoom(checked === true)}>
            <Checkbox.HiddenInput />
            <Checkbox.Control borderColor="faint" _checked={{ bg: 'lamp', borderColor: 'lamp', color: 'onLight' }} />
            <Checkbox.Label fontWeight="400">They sit in my room: our microphones hear each other</Checkbox.Label>
          </Checkbox.Root>
          <Flex gap="8px" mt="12px">
            <ControlButton type="submit" tone="lamp">
              Connect
            </ControlButton>
            <ControlButton onClick={onDone}>Not now</ControlButton>
          </Flex>
        </>
      )}
      <Text role="alert" fontSize="13px" color="ember" mt="4px">
        {trouble}
      </Text>
    </Box>
  );
}

const Strong = ({ children }: { children: string }) => (
  <Text as="strong" color="text" fontWeight="600">
    {children}
  </Text>
);
