'use client';

import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { Cable, UserPlus } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { REFLEXIVES } from '@/core/hearing/plan';
import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { listInWords } from '@/core/hearing/names';
import { LINE_STATE_WORDS } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import { sendJson } from '@/live/api';
import { FormField } from '../access/form-field';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { NewPairLine } from '../devices/new-pair-line';
import { PairDevices } from '../devices/pair-devices';
import { InvitePart } from './invite-part';
import { LineCoding } from './line-coding';
import { SamePerson } from './same-person';

/** Who is in the episode and how they come in. */
export function PeoplePanel() {
  const seats = useDeskState((state) => state.seats);
  const [adding, setAdding] = useState<'link' | 'pair' | null>(null);
  return (
    <Panel title="People" aside={`${seats.length} seats`}>
      {seats.map((seat) => (
        <SeatRow key={seat.id} seat={seat} />
      ))}
      {adding === 'link' && <NewPerson onDone={() => setAdding(null)} />}
      {adding === 'pair' && <NewPairLine onDone={() => setAdding(null)} />}
      {adding === null && (
        <Flex gap="8px" mt="10px" wrap="wrap">
          <ControlButton onClick={() => setAdding('link')}>
            <UserPlus size={16} /> Add somebody
          </ControlButton>
          <ControlButton title="By any other call program, a telephone, a second computer, or somebody in the room." onClick={() => setAdding('pair')}>
            <Cable size={16} /> Add somebody by another program
          </ControlButton>
        </Flex>
      )}
    </Panel>
  );
}

function SeatRow({ seat }: { seat: DeskSeat }) {
  const desk = useDesk();
  const line = useDeskState(({ lines }) => lines[seat.id]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const address = `/api/episodes/${desk.data.episode.id}/seats/${seat.id}`;
  const tell = (error: Error) => setTrouble(error.message);
  const state = () => desk.store.getState();
  const change = (changed: Partial<Pick<DeskSeat, 'line' | 'lineSettings'>>) =>
    sendJson('PUT', address, changed).then(
      () => desk.setSeats(state().seats.map((one) => (one.id === seat.id ? { ...one, ...changed } : one)), state().invitations),
      tell,
    );
  const remove = () =>
    sendJson('DELETE', address).then(
      () => desk.setSeats(state().seats.filter(({ id }) => id !== seat.id), state().invitations.filter((one) => one.seat !== seat.id)),
      tell,
    );
  const isGuest = seat.role !== 'host';
  return (
    <Box as="article" aria-label={seat.fullName} py="8px" _notFirst={{ borderTopWidth: '1px', borderColor: 'hairline' }}>
      <Flex gap="10px" align="center">
        <Box flex="1" minW="0">
          <Text fontWeight="600">{seat.fullName}</Text>
          <Text fontSize="13px" color="soft">
            {seat.people.length > 1 ? listInWords(seat.people) : seat.about || seat.role}
            {line && ` · ${LINE_STATE_WORDS[line.state]}`}
          </Text>
        </Box>
        {isGuest ? (
          <NativeSelect.Root size="sm" w="150px">
            <NativeSelect.Field aria-label={`Line of ${seat.name}`} value={seat.line} bg="ground" borderColor="hairline" onChange={(event) => void change({ line: event.target.value as 'link' | 'pair' | 'practice' })}>
              {(seat.practice || seat.line === 'practice') && <option value="practice">{seat.practice ? 'practice voice' : 'no line yet'}</option>}
              <option value="link">comes by link</option>
              <option value="pair">by another program</option>
              {seat.line === 'tab' && <option value="tab">by a tab</option>}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        ) : (
          <Text fontSize="13px" color="soft">
            at the desk
          </Text>
        )}
        {isGuest && (
          <ControlButton h="30px" px="10px" fontSize="13px" aria-label={`Take ${seat.name} out`} onClick={() => void remove()}>
            Take out
          </ControlButton>
        )}
      </Flex>
      {seat.line === 'link' && isGuest && (
        <>
          <InvitePart seat={seat} onTrouble={setTrouble} />
          <LineCoding seat={seat} settings={seat.lineSettings ?? DEFAULT_LINE} onChange={(lineSettings) => void change({ lineSettings })} />
        </>
      )}
      {seat.line === 'pair' && isGuest && <PairDevices seat={seat} />}
      {isGuest && <SamePerson seat={seat} />}
      <Text role="alert" fontSize="13px" color="ember">
        {trouble}
      </Text>
    </Box>
  );
}

/** Writes somebody down; they come by link. */
function NewPerson({ onDone }: { onDone(): void }) {
  const desk = useDesk();
  const [trouble, setTrouble] = useState<string | null>(null);
  const add = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const values = Object.fromEntries(new FormData(event.currentTarget));
    const fullName = String(values.fullName).trim();
    try {
      const seat = await sendJson<DeskSeat>('POST', `/api/episodes/${desk.data.episode.id}/seats`, { ...values, name: String(values.name).trim() || fullName.split(/\s+/)[0], fullName });
      const { seats, invitations } = desk.store.getState();
      desk.setSeats([...seats, seat], invitations);
      onDone();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <Box as="form" aria-label="Add somebody" mt="10px" p="12px" bg="ground" borderRadius="control" onSubmit={(event) => void add(event as unknown as FormEvent<HTMLFormElement>)}>
      <Flex gap="10px">
        <FormField label="Whole name" name="fullName" required maxLength={60} autoFocus />
        <FormField label="What you call them" name="name" maxLength={60} placeholder="first name" />
      </Flex>
      <Flex gap="10px" mt="10px" align="end">
        <FormField label="Who they are" name="about" maxLength={120} />
        <Select label="Is here as" name="role" options={[['caller', 'guest'], ['producer', 'producer']]} />
        <Select label="Hears" name="reflexive" options={REFLEXIVES.map((one) => [one, `never ${one}`])} />
      </Flex>
      <Flex gap="8px" mt="12px">
        <ControlButton type="submit" tone="lamp">
          Add
        </ControlButton>
        <ControlButton onClick={onDone}>Not now</ControlButton>
      </Flex>
      <Text role="alert" fontSize="13px" color="ember">
        {trouble}
      </Text>
    </Box>
  );
}

function Select({ label, name, options }: { label: string; name: string; options: (readonly [string, string])[] }) {
  return (
    <Box as="label" fontSize="14px" color="soft" flex="none">
      {label}
      <NativeSelect.Root mt="6px" w="140px">
        <NativeSelect.Field name={name} bg="ground" borderColor="hairline" color="text">
          {options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Box>
  );
}
