'use client';

import { Box, Grid, Heading } from '@chakra-ui/react';
import { sourceSettings, type Source } from '@/core/hearing/plan';
import { useDeskState } from '../shell/desk-context';
import { LaneControls } from './lane-controls';
import { LaneLamps } from './lane-lamps';
import { LaneLevel } from './lane-level';
import { BringUp } from './bring-up';
import { LaneGain } from './lane-gain';
import { LaneNote } from './lane-note';
import { LaneTrace } from './lane-trace';

/** One source: who, what they say now, who hears them, how loud, and its two controls. */
export function Lane({ source, slot }: { source: Source; slot: number }) {
  const on = useDeskState(({ plan }) => sourceSettings(plan, source.id).on);
  return (
    <Grid
      as="article"
      aria-label={source.name}
      templateColumns="152px minmax(88px, 1fr) auto 130px 92px 136px"
      columnGap="14px"
      alignItems="center"
      h="100%"
      px="16px"
      bg="surface"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="lane"
      opacity={on ? 1 : 0.72}
    >
      <Box minW="0">
        <Heading as="h2" fontFamily="heading" fontSize="19px" fontWeight="700" lineHeight="1.2" truncate>
          {source.name}
        </Heading>
        <LaneNote source={source} />
        {source.kind === 'voice' && source.seat.role === 'caller' && <BringUp seat={source.seat.id} name={source.name} />}
      </Box>
      <LaneTrace slot={slot} />
      <LaneLamps source={source} slot={slot} />
      <LaneLevel slot={slot} />
      <LaneGain source={source} slot={slot} />
      <LaneControls source={source} />
    </Grid>
  );
}
