'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import type { TakeData } from '@/core/session/take-data';
import { formatDuration, formatLevel } from '../format';

const RATE = 48000;
const Link = chakra('a');

/** Which sounds were played when, how long and how loud; as a table for reports to rights holders. */
export function PlaysNote({ take }: { take: TakeData }) {
  if (take.plays.length === 0) return null;
  return (
    <Box as="details" fontSize="14px" color="soft">
      <summary>
        {take.plays.length === 1 ? 'One sound was played' : `${take.plays.length} sounds were played`}
      </summary>
      <Flex as="ol" aria-label="Sounds played" wrap="wrap" columnGap="18px" listStyleType="none" mt="4px">
        {take.plays.map(({ name, atSample, lengthSamples, rmsDb }) => (
          <li key={`${name}-${atSample}`}>
            <Text as="span" color="text">
              {name}
            </Text>{' '}
            at {formatDuration(atSample / RATE)} for {(lengthSamples / RATE).toFixed(1)} s{rmsDb !== null && `, ${formatLevel(rmsDb)} dBFS RMS`}
          </li>
        ))}
      </Flex>
      <Link href={`/api/takes/${take.id}/plays`} download color="text" textDecoration="underline">
        Download the play log (CSV)
      </Link>
    </Box>
  );
}
