'use client';

import { Box, Flex, Grid, Text } from '@chakra-ui/react';
import { shortNames } from '@/core/hearing/short-names';
import { listenersOf } from '@/core/hearing/plan';
import { useDeskState } from '../shell/desk-context';
import { HEAD, type LaneLayout } from './lane-layout';
import { laneColumns } from './lane-row';
import { levelShare, SCALE_MARKS } from '@/live/paint/level-scale';

/** What stands once above all lanes: who the lamps are, and the scale of the levels. */
export function LaneHead({ layout }: { layout: LaneLayout }) {
  const listeners = useDeskState(({ plan }) => plan);
  const all = listenersOf(listeners);
  const short = shortNames(all.map(({ name }) => name), 9);
  return (
    <Grid templateColumns={laneColumns(layout)} columnGap="8px" alignItems="end" h={`${HEAD}px`} flex="none" px="10px" pb="4px" fontSize="12px" color="soft" aria-hidden>
      <Text>who</Text>
      {layout.trace > 0 && <Text>now</Text>}
      <Flex>
        {all.map((listener, k) => (
          <Box key={listener.id} w={`${layout.pitch}px`} h={`${HEAD - 12}px`} position="relative">
            <Text position="absolute" bottom="0" left="50%" whiteSpace="nowrap" lineHeight="1" color="text" transform="rotate(-62deg)" transformOrigin="left bottom">
              {short[k]}
            </Text>
          </Box>
        ))}
      </Flex>
      {layout.trace === 0 && <span />}
      <Grid templateColumns="32px 1fr" columnGap="6px">
        <Text textAlign="right">LUFS</Text>
        <Box position="relative" h="16px">
          {SCALE_MARKS.filter((db) => layout.level > 100 || db === -18).map((db) => (
            <Text key={db} position="absolute" left={`${100 * levelShare(db)}%`} transform="translateX(-50%)">
              {Math.abs(db)}
            </Text>
          ))}
        </Box>
      </Grid>
      <span />
    </Grid>
  );
}
