'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { CalendarDays, Link2, Link2Off } from 'lucide-react';
import type { DeskSeat } from '@/core/session/desk-data';
import { sendJson } from '@/live/api';
import { ControlButton } from '../shell/control-button';
import { CopyText } from '../shell/copy-text';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LocalTime } from '../local-time';
import { invitationAddress, makeLink, type Made } from './made-link';

interface InvitePartProps {
  seat: DeskSeat;
  /** The link that was made here last; null when it is not known any more. */
  made: Made | null;
  onMade(made: Made | null): void;
  onTrouble(words: string | null): void;
}

/** A seat's link: made, shown once with its QR code and calendar entry, made anew, stopped. */
export function InvitePart({ seat, made, onMade, onTrouble }: InvitePartProps) {
  const desk = useDesk();
  const invitation = useDeskState(({ invitations }) => invitations.find((one) => one.seat === seat.id));
  const address = invitationAddress(desk.data.episode.id, seat.id);
  const keep = (next: { expiresAt: string } | null) => {
    const { seats, invitations } = desk.store.getState();
    const others = invitations.filter((one) => one.seat !== seat.id);
    desk.seats.set(seats, next ? [...others, { seat: seat.id, expiresAt: next.expiresAt, openedAt: null }] : others);
  };
  const tell = (error: Error) => onTrouble(error.message);
  const make = () =>
    makeLink(desk.data.episode.id, seat.id).then((answer) => {
      onMade(answer);
      keep(answer);
      onTrouble(null);
    }, tell);
  const stop = () =>
    sendJson('DELETE', address).then(() => {
      onMade(null);
      keep(null);
    }, tell);
  return (
    <Box mt="8px">
      <Flex gap="8px" align="center" wrap="wrap">
        <ControlButton h="32px" tone={invitation ? 'plain' : 'lamp'} aria-label={`${invitation ? 'New link' : 'Make a link'} for ${seat.name}`} onClick={() => void make()} title={invitation ? 'The link there is stops working.' : undefined}>
          <Link2 size={15} /> {invitation ? 'New link' : 'Make a link'}
        </ControlButton>
        {invitation && (
          <ControlButton h="32px" aria-label={`Stop the link of ${seat.name}`} onClick={() => void stop()} title="A guest who is in by it is out at once.">
            <Link2Off size={15} /> Stop the link
          </ControlButton>
        )}
        {invitation && (
          <Text fontSize="13px" color="soft">
            good until <LocalTime at={invitation.expiresAt} />
          </Text>
        )}
      </Flex>
      {made && <MadeLink seat={seat} made={made} />}
    </Box>
  );
}

function MadeLink({ seat, made }: { seat: DeskSeat; made: Made }) {
  const local = /^https?:\/\/(127\.|localhost|\[::1\])/.test(made.link);
  return (
    <Box mt="10px">
      <Text fontSize="13px" color="soft">
        Send this to {seat.name} alone. It is shown only now; a lost one is replaced by a new one.
      </Text>
      <CopyText label={`Link for ${seat.name}`} text={made.link} />
      <Flex mt="8px" gap="12px" align="start">
        <Box role="img" aria-label={`QR code of the link for ${seat.name}`} flex="none" w="88px" h="88px" bg="#ffffff" borderRadius="control" overflow="hidden" css={{ '& svg': { width: '88px', height: '88px' } }} dangerouslySetInnerHTML={{ __html: made.qr }} />
        <Box fontSize="13px">
          {made.calendar ? (
            <a href={`data:text/calendar;charset=utf-8,${encodeURIComponent(made.calendar)}`} download={`${seat.id}.ics`}>
              <Flex as="span" align="center" gap="6px" color="lampCore" textDecoration="underline" minH="24px">
                <CalendarDays size={15} /> Calendar entry for {seat.name} (ICS)
              </Flex>
            </a>
          ) : (
            <Text color="soft">Give the episode a date to get a calendar entry.</Text>
          )}
          {local && (
            <Text mt="4px" color="lamp" lineHeight="1.35">
              It works on this machine only. What guests elsewhere need stands under Reach in the settings.
            </Text>
          )}
        </Box>
      </Flex>
    </Box>
  );
}
