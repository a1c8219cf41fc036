'use client';

import { Box, Flex, Grid } from '@chakra-ui/react';
import { useRef } from 'react';
import { listenersOf, sourcesOf } from '@/core/hearing/plan';
import { AirStrip } from '../air/air-strip';
import { useRoom } from '../canvas';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Lane } from './lane';
import { LaneHead } from './lane-head';
import { laneLayout } from './lane-layout';
import { LaneRow } from './lane-row';
import { MarksStrip } from './marks-strip';
import { OutletsStrip } from './outlets-strip';
import { PadsPanel } from './pads-panel';
import { PhonesPanel } from './phones-panel';
import { TalkPanel } from './talk-panel';
import { WatchPanel } from './watch-panel';

/** The desk on air: lanes on the left, what the hands and eyes need beside them. */
export function LiveDesk() {
  return (
    <Grid as="main" templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 264px', xl: 'minmax(0, 1fr) 312px' }} gap="12px" p="12px" flex="1" minH="0">
      <Lanes />
      <Flex direction="column" gap="10px" minH="0" overflowY="auto">
        <WatchPanel />
        <TalkPanel />
        <MarksStrip />
        <PadsPanel />
        <PhonesPanel />
        <AirStrip />
        <OutletsStrip />
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
  const section = useRef<HTMLDivElement>(null);
  const room = useRoom(section);
  const layout = laneLayout({ ...room, lanes: lanes.length, listeners: listenersOf(plan).length });
  const slotOf = (id: string) => desk.plan.compiled().sourceIds.findIndex((one) => one === id);
  return (
    <Flex as="section" aria-label="Lanes" ref={section} direction="column" gap={layout.dense ? '0' : '8px'} minH="0" minW="0" overflowY="auto" overflowX={{ base: 'auto', lg: 'hidden' }} {...(layout.dense && { bg: 'surface', borderWidth: '1px', borderColor: 'hairline', borderRadius: 'lane' })}>
      {room.width > 0 && layout.dense && <LaneHead layout={layout} />}
      {room.width > 0 &&
        lanes.map((source) =>
          layout.dense ? (
            <LaneRow key={source.id} source={source} slot={slotOf(source.id)} layout={layout} />
          ) : (
            <Box key={source.id} flex="1" minH="92px" maxH="112px">
              <Lane source={source} slot={slotOf(source.id)} />
            </Box>
          ),
        )}
    </Flex>
  );
}
