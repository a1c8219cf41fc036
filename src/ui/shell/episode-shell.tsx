'use client';

import { Flex } from '@chakra-ui/react';
import { usePathname } from 'next/navigation';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import { mayIn } from '@/core/access/rights';
import type { DeskData } from '@/core/session/desk-data';
import { roomStates } from '@/core/session/readiness';
import { deskOf } from '@/live/desk/desk-registry';
import { AirLamp } from '../air/air-lamp';
import { ZoneProvider } from '../local-time';
import { ActionsSheet } from './actions-sheet';
import { CallButton } from './call-button';
import { DeskProvider, useDesk } from './desk-context';
import { DeskKeys } from './desk-keys';
import { EpisodeHeader } from './episode-header';
import { useDeskState } from './desk-context';
import { NextStep } from './next-step';
import { RecordingBlock } from './recording-block';
import { StripOpener } from '../strip/strip-opener';
import { SignInAgain } from './sign-in-again';
import { WatchBanner } from './watch-banner';
import { useWorkFacts } from './work-facts';

const never = () => () => undefined;

/** What is in the frame: worked by the desk, only looked at by other windows, but for takes. */
function Room({ onSheet, children }: { onSheet(): void; children: ReactNode }) {
  const watching = useDeskState((state) => state.place === 'watching');
  const worked = useDeskState((state) => state.place === 'desk');
  const { role } = useDesk().data;
  // What was recorded lies on the server: whoever may work on it does so at any window.
  const ofTakes = usePathname().includes('/takes') && mayIn(role, 'work');
  return (
    <Flex direction="column" flex="1" minH="0" inert={!worked && !ofTakes} opacity={watching && !ofTakes ? 0.8 : 1}>
      {worked && <DeskKeys onSheet={onSheet} />}
      {children}
    </Flex>
  );
}

/** The header with what the desk knows. */
function DeskHeader({ data, onSheet }: { data: DeskData; onSheet(): void }) {
  const facts = useWorkFacts();
  return (
    <EpisodeHeader episode={data.episode} states={roomStates(facts)} onSheet={onSheet}>
      <AirLamp otherwise={<NextStep facts={facts} />} />
      <CallButton />
      <RecordingBlock />
    </EpisodeHeader>
  );
}

/** The frame of all rooms of an episode: header, call and recording lamp, with the desk behind them. */
export function EpisodeShell({ data, children }: { data: DeskData; children: ReactNode }) {
  const [sheet, setSheet] = useState(false);
  // The desk exists only in a browser; the server draws the frame without it.
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <ZoneProvider value={data.episode.timeZone}>
      <Flex direction="column" h={{ base: 'auto', lg: '100dvh' }} minH={{ base: '100dvh', lg: '640px' }}>
        {inBrowser ? (
          <DeskProvider value={deskOf(data)}>
            <DeskHeader data={data} onSheet={() => setSheet(true)} />
            <SignInAgain />
            <WatchBanner />
            <StripOpener>
              <Room onSheet={() => setSheet(true)}>{children}</Room>
            </StripOpener>
            {sheet && <ActionsSheet onClose={() => setSheet(false)} />}
          </DeskProvider>
        ) : (
          <EpisodeHeader episode={data.episode} />
        )}
      </Flex>
    </ZoneProvider>
  );
}
