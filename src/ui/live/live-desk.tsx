'use client';

import { Box, Flex, Grid } from '@chakra-ui/react';
import { sourcesOf } from '@/core/hearing/plan';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Lane } from './lane';
import { MarksStrip } from './marks-strip';
import { PadsPanel } from './pads-panel';
import { PhonesPanel } from './phones-panel';
import { TalkPanel } from './talk-panel';
import { WatchPanel } from './watch-panel';

/** The desk on air: lanes on the left, what the hands and eyes need beside them. */
export function LiveDesk() {
  return (
    <Grid as="main" templateColumns="minmax(0, 1fr) 312px" gap="12px" p="12px" flex="1" minH="0">
      <Lanes />
      <Flex direction="column" gap="10px" minH="0" overflowY="auto">
        <WatchPanel />
        <TalkPanel />
        <MarksStrip />
        <PadsPanel />
        <PhonesPanel />
      </Flex>
    </Grid>
  );
}

function Lanes() {
  const desk = useDesk();
  const plan = useDeskState((state) => state.plan);
  // Talkback has no lane: it is heard only while somebody talks, and is on no track.
  // A share has one while there is one; its place in plan and take is there all the time.
  const shares = useDeskState((state) => state.share !== null);
  const lanes = sourcesOf(plan).filter(({ kind }) => kind !== 'talkback' && (kind !== 'share' || shares));
  return (
    <Flex as="section" aria-label="Lanes" direction="column" gap="8px" minH="0" overflowY="auto">
      {lanes.map((source) => (
        <Box key={source.id} flex="1" minH="92px" maxH="112px">
          <Lane source={source} slot={desk.plan.compiled().sourceIds.indexOf(source.id)} />
        </Box>
      ))}
    </Flex>
  );
}
