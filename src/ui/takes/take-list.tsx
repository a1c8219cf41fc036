'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { formatDuration } from '../format';
import { LocalTime } from './local-time';

const Link = chakra(NextLink);

export interface ListedTake {
  id: string;
  number: number;
  state: 'recording' | 'sealed';
  startedAt: string;
  lengthSamples: number;
}

/** All takes of an episode, newest first. */
export function TakeList({ episode, takes }: { episode: string; takes: ListedTake[] }) {
  return (
    <Box as="main" maxW="860px" w="100%" mx="auto" p="24px" overflowY="auto">
      <Heading as="h2" fontFamily="heading" fontSize="21px" mb="14px">
        Takes
      </Heading>
      {takes.length === 0 && (
        <Text color="soft">
          Nothing has been recorded. Open{' '}
          <Link href={`/episodes/${episode}/live`} color="lamp" textDecoration="underline">
            Live
          </Link>
          , start the call and press Record: every voice gets a track of its own.
        </Text>
      )}
      {takes.map((take) => (
        <Link
          key={take.id}
          href={`/episodes/${episode}/takes/${take.id}`}
          display="block"
          p="16px 20px"
          mb="10px"
          bg="surface"
          borderWidth="1px"
          borderColor="hairline"
          borderRadius="lane"
          _hover={{ borderColor: 'lamp' }}
        >
          <Flex align="baseline" gap="16px">
            <Text fontFamily="heading" fontSize="19px" fontWeight="700">
              Take {take.number}
            </Text>
            <Text color="soft" fontSize="15px">
              <LocalTime at={take.startedAt} />
            </Text>
            <Text ml="auto" fontSize="15px" color={take.state === 'sealed' ? 'text' : 'ember'}>
              {take.state === 'sealed' ? formatDuration(take.lengthSamples / 48000) : 'still open'}
            </Text>
          </Flex>
        </Link>
      ))}
    </Box>
  );
}
