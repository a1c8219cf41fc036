'use client';

import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react';
import { Cable, UserPlus } from 'lucide-react';
import { useState } from 'react';
import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { listInWords } from '@/core/hearing/names';
import { LINE_STATE_WORDS } from '@/core/lines/line-state';
import type { DeskSeat } from '@/core/session/desk-data';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Panel } from '../shell/panel';
import { NewPairLine } from '../devices/new-pair-line';
import { PairDevices } from '../devices/pair-devices';
import { counted } from '../plural';
import { AllInvitations } from './all-invitations';
import { InvitePart } from './invite-part';
import { LineCoding } from './line-coding';
import type { Made } from './made-link';
import { NewPeople } from './new-people';
import { SamePerson } from './same-person';

/** Who is in the episode and how they come in. */
export function PeoplePanel({ known }: { known: string[] }) {
  const seats = useDeskState((state) => state.seats);
  const [adding, setAdding] = useState<'link' | 'pair' | null>(null);
  const [made, setMade] = useState<Record<string, Made | null>>({});
  const keep = (seat: string, link: Made | null): void => setMade((before) => ({ ...before, [seat]: link }));
  return (
    <Panel title="People" aside={counted(seats.length, 'person', 'people')}>
      {seats.map((seat) => (
        <SeatRow key={seat.id} seat={seat} made={made[seat.id] ?? null} onMade={(link) => keep(seat.id, link)} />
      ))}
      <AllInvitations made={made} />
      {adding === 'link' && <NewPeople known={known} onMade={keep} onDone={() => setAdding(null)} />}
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

function SeatRow({ seat, made, onMade }: { seat: DeskSeat; made: Made | null; onMade(made: Made | null): void }) {
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
          <ControlButton h="30px" px="10px" fontSize="13px" aria-label={`Remove ${seat.name}`} onClick={() => void remove()}>
            Remove
          </ControlButton>
        )}
      </Flex>
      {seat.line === 'link' && isGuest && (
        <>
          <InvitePart seat={seat} made={made} onMade={onMade} onTrouble={setTrouble} />
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
