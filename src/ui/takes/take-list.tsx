'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { formatDuration, sizeInWords } from '../format';
import { LocalTime } from './local-time';

const Link = chakra(NextLink);

export interface ListedTake {
  id: string;
  number: number;
  state: 'recording' | 'sealed';
  startedAt: string;
  lengthSamples: number;
  name: string;
  note: string;
  bytes: number;
  binned: boolean;
}

/** All takes of an episode, newest first; what is in the bin stands apart. */
export function TakeList({ episode, takes, showBytes }: { episode: string; takes: ListedTake[]; showBytes: number }) {
  const binned = takes.filter((take) => take.binned);
  const kept = takes.filter((take) => !take.binned);
  return (
    <Box as="main" maxW="860px" w="100%" mx="auto" p="24px" overflowY="auto">
      <Flex align="baseline" justify="space-between" mb="14px">
        <Heading as="h2" fontFamily="heading" fontSize="21px">
          Takes
        </Heading>
        {takes.length > 0 && (
          <Text color="soft" fontSize="14px">
            All takes of this show hold {sizeInWords(showBytes)} of sound
          </Text>
        )}
      </Flex>
      {kept.length === 0 && (
        <Text color="soft" mb="14px">
          {takes.length === 0 ? 'Nothing has been recorded.' : 'All takes are in the bin.'} Open{' '}
          <Link href={`/episodes/${episode}/live`} color="lamp" textDecoration="underline">
            Live
          </Link>
          , start the call and press Record: every voice gets a track of its own.
        </Text>
      )}
      {kept.map((take) => (
        <TakeLink key={take.id} episode={episode} take={take} />
      ))}
      {binned.length > 0 && (
        <Box as="details" mt="18px">
          <chakra.summary mb="10px" color="soft">
            In the bin: {binned.length}
          </chakra.summary>
          {binned.map((take) => (
            <TakeLink key={take.id} episode={episode} take={take} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function TakeLink({ episode, take }: { episode: string; take: ListedTake }) {
  return (
    <Link
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
          {take.name && `: ${take.name}`}
        </Text>
        <Text color="soft" fontSize="15px">
          <LocalTime at={take.startedAt} />
        </Text>
        <Text ml="auto" color="soft" fontSize="14px">
          {sizeInWords(take.bytes)}
        </Text>
        <Text fontSize="15px" minW="64px" textAlign="right" color={take.state === 'sealed' ? 'text' : 'ember'}>
          {take.state === 'sealed' ? formatDuration(take.lengthSamples / 48000) : 'still open'}
        </Text>
      </Flex>
      {take.note && (
        <Text color="soft" fontSize="14px" mt="4px" lineClamp="2">
          {take.note}
        </Text>
      )}
    </Link>
  );
}
