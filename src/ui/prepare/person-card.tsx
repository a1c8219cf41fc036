'use client';

import { Box, Flex, Heading, NativeSelect, Text } from '@chakra-ui/react';
import { Ellipsis, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { LINE_STATE_WORDS } from '@/core/lines/line-state';
import { listInWords } from '@/core/hearing/names';
import { listenersOf } from '@/core/hearing/plan';
import { hearsSentence } from '@/core/hearing/sentences';
import type { Missing } from '@/core/session/readiness';
import type { DeskSeat } from '@/core/session/desk-data';
import { sendJson } from '@/live/api';
import { PairDevices } from '../devices/pair-devices';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { InvitePart } from './invite-part';
import { LineCoding } from './line-coding';
import type { Made } from './made-link';
import { SamePerson } from './same-person';

interface PersonCardProps {
  seat: DeskSeat;
  missing: Missing | null;
  made: Made | null;
  onMade(made: Made | null): void;
}

/** One person: how they come in, how that stands, what they hear, and what is missing. */
export function PersonCard({ seat, missing, made, onMade }: PersonCardProps) {
  const desk = useDesk();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [more, setMore] = useState(false);
  const address = `/api/episodes/${desk.data.episode.id}/seats/${seat.id}`;
  const tell = (error: Error): void => setTrouble(error.message);
  const state = () => desk.store.getState();
  const change = (changed: Partial<Pick<DeskSeat, 'line' | 'lineSettings'>>) =>
    sendJson('PUT', address, changed).then(
      () => desk.seats.set(state().seats.map((one) => (one.id === seat.id ? { ...one, ...changed } : one)), state().invitations),
      tell,
    );
  const remove = () =>
    sendJson('DELETE', address).then(
      () => desk.seats.set(state().seats.filter(({ id }) => id !== seat.id), state().invitations.filter((one) => one.seat !== seat.id)),
      tell,
    );
  const isGuest = seat.role !== 'host';
  return (
    <Box as="article" aria-label={seat.fullName} bg="raised" borderWidth="1px" borderColor="hairline" borderRadius="control" p="12px" minW="0">
      <Flex align="baseline" justify="space-between" gap="8px">
        <Heading as="h3" fontFamily="heading" fontSize="17px" fontWeight="700" lineHeight="1.25" minW="0" truncate>
          {seat.fullName}
        </Heading>
        <Standing seat={seat} missing={missing} />
      </Flex>
      <Text fontSize="13px" color="soft">
        {seat.people.length > 1 ? listInWords(seat.people) : seat.about || (seat.role === 'caller' ? 'guest' : seat.role)}
      </Text>
      <Hears seat={seat} />
      {isGuest && (
        <Flex gap="8px" mt="8px" align="center">
          <NativeSelect.Root size="sm" flex="1">
            <NativeSelect.Field aria-label={`Line of ${seat.name}`} value={seat.line} bg="ground" borderColor="hairline" onChange={(event) => void change({ line: event.target.value as 'link' | 'pair' | 'practice' })}>
              {(seat.practice || seat.line === 'practice') && <option value="practice">{seat.practice ? 'practice voice' : 'no line yet'}</option>}
              <option value="link">comes by link</option>
              <option value="pair">by another program</option>
              {seat.line === 'tab' && <option value="tab">by a tab</option>}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <ControlButton h="32px" px="9px" aria-label={`More of ${seat.name}`} title="Coding, another line of the same person" aria-expanded={more} onClick={() => setMore(!more)}>
            <Ellipsis size={15} />
          </ControlButton>
          <ControlButton h="32px" px="9px" aria-label={`Remove ${seat.name}`} title={`Remove ${seat.name}`} onClick={() => void remove()}>
            <Trash2 size={15} />
          </ControlButton>
        </Flex>
      )}
      {seat.line === 'link' && isGuest && <InvitePart seat={seat} made={made} onMade={onMade} onTrouble={setTrouble} />}
      {seat.line === 'pair' && isGuest && <TwoEnds seat={seat} missing={missing !== null} />}
      {more && seat.line === 'link' && <LineCoding seat={seat} settings={seat.lineSettings ?? DEFAULT_LINE} onChange={(lineSettings) => void change({ lineSettings })} />}
      {isGuest && <SamePerson seat={seat} asked={more} />}
      <Text role="alert" fontSize="13px" color="ember">
        {trouble}
      </Text>
    </Box>
  );
}

/** What is missing of somebody, or how their line stands. */
function Standing({ seat, missing }: Pick<PersonCardProps, 'seat' | 'missing'>) {
  const line = useDeskState(({ lines }) => lines[seat.id]?.state);
  const words = seat.role === 'host' ? 'at the desk' : line ? LINE_STATE_WORDS[line] : missing?.waits === false ? 'something is missing' : seat.line === 'practice' && seat.practice ? 'simulated' : 'no line';
  const colour = missing && !missing.waits ? 'lamp' : line === 'live' || line === 'back' ? 'well' : 'soft';
  return (
    <Text fontSize="13px" flex="none" color={colour}>
      {words}
    </Text>
  );
}

/** What somebody hears once they are in the call. */
function Hears({ seat }: { seat: DeskSeat }) {
  const plan = useDeskState((state) => state.plan);
  const listener = listenersOf(plan).find((one) => (one.kind === 'return' || one.kind === 'phones') && one.seat.id === seat.id);
  if (!listener) return null;
  return (
    <Text fontSize="13.5px" mt="6px" lineHeight="1.4">
      {hearsSentence({ ...plan, waiting: [] }, listener)}
    </Text>
  );
}

/** The two devices of a line: shut while nothing is missing of them. */
function TwoEnds({ seat, missing }: { seat: DeskSeat; missing: boolean }) {
  const [chosen, setChosen] = useState<boolean | null>(null);
  const open = chosen ?? missing;
  return (
    <Box mt="8px">
      <ControlButton h="30px" aria-expanded={open} aria-label={`Devices of ${seat.name}`} onClick={() => setChosen(!open)}>
        {open ? 'Hide its two ends' : 'Its two ends'}
      </ControlButton>
      {open && <PairDevices seat={seat} />}
    </Box>
  );
}
