'use client';

import { Box, Flex, Grid } from '@chakra-ui/react';
import { sourcesOf } from '@/core/hearing/plan';
import { useDeskState } from '../shell/desk-context';
import { Lane } from './lane';
import { MixesChoice } from './mixes-choice';
import { PadsPanel } from './pads-panel';
import { PhonesPanel } from './phones-panel';
import { WatchPanel } from './watch-panel';

/** The desk on air: lanes on the left, what the hands and eyes need beside them. */
export function LiveDesk() {
  return (
    <Grid as="main" templateColumns="minmax(0, 1fr) 312px" gap="12px" p="12px" flex="1" minH="0">
      <Lanes />
      <Flex direction="column" gap="10px" minH="0" overflowY="auto">
        <WatchPanel />
        <PadsPanel />
        <PhonesPanel />
        <MixesChoice />
      </Flex>
    </Grid>
  );
}

function Lanes() {
  const plan = useDeskState((state) => state.plan);
  return (
    <Flex as="section" aria-label="Lanes" direction="column" gap="8px" minH="0" overflowY="auto">
      {sourcesOf(plan).map((source, slot) => (
        <Box key={source.id} flex="1" minH="84px" maxH="112px">
          <Lane source={source} slot={slot} />
        </Box>
      ))}
    </Flex>
  );
}
