'use client';

import { Flex, Grid } from '@chakra-ui/react';
import { RadioPanel } from '../air/radio-panel';
import { MySoundPanel } from '../devices/my-sound-panel';
import { AuditPanel } from '../hearing/audit-panel';
import { ReachPanel } from '../reach/reach-panel';
import { useDesk, useDeskState } from '../shell/desk-context';
import { PeoplePanel } from './people-panel';
import { StillToDo } from './still-to-do';

/** Before the call: my own sound, who is in it and how they come in, and what is still missing. */
export function PreparePage({ known }: { known: string[] }) {
  const awaited = useAwaited();
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) 312px' }} gap="12px" p="12px" flex="1" minH="0" overflowY="auto" alignContent="start">
      <Flex direction="column" gap="10px" minW="0">
        <MySoundPanel />
        <PeoplePanel known={known} />
        <RadioPanel />
      </Flex>
      <Flex direction="column" gap="10px">
        <StillToDo />
        {awaited && <ReachPanel />}
        <AuditPanel />
      </Flex>
    </Grid>
  );
}

/** Guests are to come by their links, and nobody ever did: whether they can is looked at before. */
function useAwaited(): boolean {
  const { data } = useDesk();
  const byLink = useDeskState(({ seats }) => seats.some(({ role, line }) => role !== 'host' && line === 'link'));
  const opened = useDeskState(({ invitations }) => invitations.some(({ openedAt }) => openedAt !== null));
  return byLink && !opened && data.takes === 0;
}
