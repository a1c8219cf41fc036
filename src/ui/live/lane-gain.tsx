'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { setSource } from '@/core/hearing/edit';
import { sourceSettings, type Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { useDesk, useDeskState } from '../shell/desk-context';
import { LevelSlider } from '../shell/level-slider';
import { StripButton } from '../strip/strip-button';
import { RiddenGain } from './ridden-gain';

const LOWEST_TRIM_DB = -24;
const HIGHEST_TRIM_DB = 12;

/** The level of one source in everything but its own track. */
export function LaneGain({ source, slot }: { source: Source; slot: number }) {
  const desk = useDesk();
  const ducks = useDeskState(({ plan }) => plan.ducking[source.id]?.on ?? false);
  const trimDb = useDeskState(({ plan }) => sourceSettings(plan, source.id).trimDb);
  return (
    <Box>
      <Flex justify="space-between" fontSize="12.5px" color="soft" mb="2px">
        <span>Gain</span>
        <Text as="span" color="text">
          {formatDb(trimDb)}
        </Text>
      </Flex>
      <LevelSlider
        label={`Gain of ${source.name}`}
        value={trimDb}
        min={LOWEST_TRIM_DB}
        max={HIGHEST_TRIM_DB}
        onChange={(db) => desk.plan.change((current) => setSource(current, source.id, { trimDb: db }), `trim:${source.id}`)}
      />
      {ducks && <RiddenGain slot={slot} trimDb={trimDb} />}
      {source.kind === 'voice' && <StripButton source={source} w="100%" h="24px" mt="4px" px="0" fontSize="12.5px" />}
    </Box>
  );
}
