'use client';

import { Flex, Grid } from '@chakra-ui/react';
import { CrosspointsMeasured } from './crosspoints-measured';
import { FoundPanel } from './found-panel';
import { KeptPanel } from './kept-panel';
import { LineCheckPanel } from './line-check-panel';
import { MyMicrophonePanel } from './my-microphone-panel';
import { PeopleSound } from './people-sound';
import { TestCallPanel } from './test-call-panel';

/** How everybody sounds, and where every sound arrives: measured, before it counts. */
export function CheckPage() {
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 284px', xl: 'minmax(0, 1fr) 304px' }} alignItems="start" gap="12px" p="12px" flex="1" minH="0">
      <Flex direction="column" gap="12px" minW="0">
        <PeopleSound />
        <CrosspointsMeasured />
      </Flex>
      <Flex direction="column" gap="12px">
        <LineCheckPanel />
        <FoundPanel />
        <MyMicrophonePanel />
        <TestCallPanel />
        <KeptPanel />
      </Flex>
    </Grid>
  );
}
