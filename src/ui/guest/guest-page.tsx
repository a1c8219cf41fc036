'use client';

import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { useStore } from 'zustand';
import type { GuestData } from '@/core/lines/guest-data';
import { GuestSession } from '@/live/guest/guest-session';
import { LanternMark } from '../episodes/lantern-mark';
import { ControlButton } from '../shell/control-button';
import { LocalTime } from '../local-time';
import { CallRoom } from './call-room';
import { ChecksStep } from './checks-step';
import { GuestProvider } from './guest-context';
import { HomeNote } from './home-note';
import { LinkEndedPage } from './link-ended-page';
import { WelcomeStep } from './welcome-step';

const never = () => () => undefined;

/** All a guest sees, in the order they need it; made for a phone, fine on a desk. */
export function GuestPage({ token, data }: { token: string; data: GuestData }) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return inBrowser ? <Guest token={token} data={data} /> : <Frame data={data} />;
}

/** The session lasts as long as the page, whatever React does with the components. */
let session: GuestSession | null = null;

function sessionOf(token: string, data: GuestData): GuestSession {
  if (!session) {
    session = new GuestSession(token, data);
    session.open();
  }
  return session;
}

function Guest({ token, data }: { token: string; data: GuestData }) {
  const [guest] = useState(() => sessionOf(token, data));
  const { box, ended, phase } = useStore(guest.store);
  useEffect(() => {
    const release = () => guest.talkTo([]);
    window.addEventListener('blur', release);
    return () => window.removeEventListener('blur', release);
  }, [guest]);
  if (box === 'ended') {
    return (
      <LinkEndedPage words={ended ?? ''}>
        <HomeNote guest={guest} />
      </LinkEndedPage>
    );
  }
  return (
    <GuestProvider value={guest}>
      <Frame data={data}>
        {box === 'elsewhere' ? <Elsewhere guest={guest} /> : phase === 'opened' ? <WelcomeStep /> : phase === 'checking' ? <ChecksStep /> : phase === 'left' ? <Left guest={guest} /> : <CallRoom />}
        <HomeNote guest={guest} />
        {box === 'away' && (
          <Text role="status" mt="14px" px="14px" py="10px" bg="emberGround" borderRadius="control" fontSize="15px">
            The connection to the studio is broken. Stay here: it comes back by itself.
          </Text>
        )}
      </Frame>
    </GuestProvider>
  );
}

function Frame({ data, children }: { data: GuestData; children?: React.ReactNode }) {
  return (
    <Box maxW="520px" mx="auto" px="18px" pt="20px" pb="40px" minH="100dvh">
      <Flex as="header" align="center" gap="12px" mb="20px">
        <LanternMark />
        <Box minW="0">
          <Text fontSize="14px" color="soft">
            {data.show} · episode {data.number}
            {data.plannedAt && (
              <>
                {' · '}
                <LocalTime at={data.plannedAt} />
              </>
            )}
          </Text>
          <Heading as="h1" fontFamily="heading" fontSize="22px" fontWeight="700" lineHeight="1.2">
            {data.title}
          </Heading>
        </Box>
      </Flex>
      <main>{children}</main>
    </Box>
  );
}

function Elsewhere({ guest }: { guest: GuestSession }) {
  return (
    <Box>
      <Heading as="h2" fontFamily="heading" fontSize="20px">
        This link is open in another window
      </Heading>
      <Text mt="8px" fontSize="16px" color="soft">
        Only one can be in the call, so that nobody hears you twice. This one is silent.
      </Text>
      <ControlButton mt="16px" tone="lamp" h="46px" w="100%" fontSize="16px" onClick={() => guest.useHere()}>
        Use the link here instead
      </ControlButton>
    </Box>
  );
}

function Left({ guest }: { guest: GuestSession }) {
  return (
    <Box>
      <Heading as="h2" fontFamily="heading" fontSize="20px">
        You have left the call
      </Heading>
      <Text mt="8px" fontSize="16px" color="soft">
        Thank you for coming. Nobody hears you any more.
      </Text>
      <ControlButton mt="16px" h="46px" w="100%" fontSize="16px" onClick={() => guest.comeBack()}>
        Come back
      </ControlButton>
    </Box>
  );
}
