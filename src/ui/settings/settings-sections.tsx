'use client';

import { Flex, Grid, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { mayIn } from '@/core/access/rights';
import { otherThan } from '@/core/session/habits';
import { ControlButton } from '../shell/control-button';
import { ReachPanel } from '../reach/reach-panel';
import { KeysPanel } from './keys-panel';
import { EventsPanel } from './events-panel';
import { GuestsPanel } from './guests-panel';
import { MembersPanel } from './members-panel';
import { OnAirPanel } from './on-air-panel';
import { RecordingPanel } from './recording-panel';
import { useShowSettings } from './show-settings';
import { SoundLevelsPanel } from './sound-levels-panel';

/** Everything that is set once for a show. @param trouble what could not be kept, in words */
export function SettingsSections({ trouble, children }: { trouble: string; children?: ReactNode }) {
  const { role, habits, showHabits, makeTheShows, run, show } = useShowSettings();
  const own = showHabits ? otherThan(showHabits, habits).length : 0;
  return (
    <>
      {trouble && (
        <Text role="alert" gridColumn="1 / -1" fontSize="14px" color="ember">
          {trouble}
        </Text>
      )}
      {own > 0 && (
        <Flex role="status" gridColumn="1 / -1" align="center" gap="12px" fontSize="14px" wrap="wrap">
          <Text>
            {own === 1 ? 'One setting' : `${own} settings`} of this episode {own === 1 ? 'differs' : 'differ'} from {show.name}.
          </Text>
          <ControlButton h="30px" onClick={() => run(makeTheShows())}>
            Use in every episode
          </ControlButton>
        </Flex>
      )}
      <Flex direction="column" gap="10px" minW="0">
        <RecordingPanel />
        {mayIn(role, 'members') && <GuestsPanel />}
        {children}
      </Flex>
      <Flex direction="column" gap="10px" minW="0">
        <OnAirPanel />
        <SoundLevelsPanel />
        {mayIn(role, 'members') && <EventsPanel />}
      </Flex>
      <Flex direction="column" gap="10px" minW="0">
        <ReachPanel />
        <KeysPanel />
        {mayIn(role, 'members') && <MembersPanel />}
      </Flex>
    </>
  );
}

/** The three columns that the sections stand in. */
export function SettingsGrid({ children }: { children: ReactNode }) {
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'repeat(2, minmax(0, 1fr))', xl: 'repeat(3, minmax(0, 1fr))' }} gap="12px" p="12px" flex="1" minH="0" overflowY="auto" alignContent="start" alignItems="start">
      {children}
    </Grid>
  );
}
