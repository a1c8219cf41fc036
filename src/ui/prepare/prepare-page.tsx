'use client';

import { Flex, Grid } from '@chakra-ui/react';
import { MySoundPanel } from '../devices/my-sound-panel';
import { AuditPanel } from '../hearing/audit-panel';
import { PeoplePanel } from './people-panel';
import { StillToDo } from './still-to-do';

/** Before the call: my own sound, who is in it and how they come in, and what is still missing. */
export function PreparePage({ known }: { known: string[] }) {
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) 312px' }} gap="12px" p="12px" flex="1" minH="0" overflowY="auto" alignContent="start">
      <Flex direction="column" gap="10px" minW="0">
        <MySoundPanel />
        <PeoplePanel known={known} />
      </Flex>
      <Flex direction="column" gap="10px">
        <StillToDo />
        <AuditPanel />
      </Flex>
    </Grid>
  );
}
