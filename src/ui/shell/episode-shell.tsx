'use client';

import { Flex } from '@chakra-ui/react';
import { useSyncExternalStore, type ReactNode } from 'react';
import type { DeskData } from '@/core/session/desk-data';
import { deskOf } from '@/live/desk/desk-registry';
import { AuditState } from './audit-state';
import { CallButton } from './call-button';
import { DeskProvider } from './desk-context';
import { DeskKeys } from './desk-keys';
import { EpisodeHeader } from './episode-header';
import { useDeskState } from './desk-context';
import { RecordingBlock } from './recording-block';
import { SignInAgain } from './sign-in-again';
import { WatchBanner } from './watch-banner';

const never = () => () => undefined;

/** What is in the frame: worked by the desk, only looked at by other windows. */
function Room({ children }: { children: ReactNode }) {
  const watching = useDeskState((state) => state.place === 'watching');
  const worked = useDeskState((state) => state.place === 'desk');
  return (
    <Flex direction="column" flex="1" minH="0" inert={!worked} opacity={watching ? 0.8 : 1}>
      {worked && <DeskKeys />}
      {children}
    </Flex>
  );
}

/** The frame of all rooms of an episode: header, call and recording lamp, with the desk behind them. */
export function EpisodeShell({ data, children }: { data: DeskData; children: ReactNode }) {
  // The desk exists only in a browser; the server draws the frame without it.
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <Flex direction="column" h="100dvh" minH="640px">
      {inBrowser ? (
        <DeskProvider value={deskOf(data)}>
          <EpisodeHeader episode={data.episode}>
            <AuditState />
            <CallButton />
            <RecordingBlock />
          </EpisodeHeader>
          <SignInAgain />
          <WatchBanner />
          <Room>{children}</Room>
        </DeskProvider>
      ) : (
        <EpisodeHeader episode={data.episode} />
      )}
    </Flex>
  );
}
