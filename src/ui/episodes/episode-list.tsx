'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { listInWords } from '@/core/hearing/names';
import { formatDuration } from '../format';
import { ThemeSwitch } from '../shell/theme-switch';
import { LocalTime } from '../takes/local-time';
import { AccountBar, type SignedIn } from './account-bar';
import { Members } from './members';
import { NewEpisode, NewShow, type OwnShow } from './new-episode';
import { LanternMark } from './lantern-mark';

const Link = chakra(NextLink);

export interface ListedEpisode {
  id: string;
  number: number;
  title: string;
  show: string;
  showId: string;
  callers: string[];
  takes: number;
  recordedSeconds: number;
  callRunning: boolean;
  /** ISO 8601. */
  plannedAt: string | null;
  openTake: boolean;
}

/** The first screen: every episode, and what it still needs. */
export function EpisodeList({ account, shows, episodes }: { account: SignedIn; shows: OwnShow[]; episodes: ListedEpisode[] }) {
  return (
    <Box maxW="1040px" mx="auto" px="24px" py="36px">
      <Flex as="header" align="center" gap="14px" mb="34px">
        <LanternMark />
        <Box>
          <Heading as="h1" fontFamily="heading" fontSize="28px" fontWeight="750" lineHeight="1.1">
            Brisk Lantern
          </Heading>
          <Text color="soft" fontSize="15px">
            Who hears what, and everybody on their own track.
          </Text>
        </Box>
        <Flex ml="auto" align="center" gap="14px">
          <AccountBar account={account} />
          <ThemeSwitch />
        </Flex>
      </Flex>
      <Box as="main">
        <Heading as="h2" fontFamily="heading" fontSize="19px" mb="12px">
          Episodes
        </Heading>
        {shows.map((show) => (
          <Flex key={show.id} gap="10px" mb="14px" wrap="wrap" align="start">
            {show.role !== 'producer' && <NewEpisode show={show} nextNumber={1 + Math.max(0, ...episodes.filter(({ showId }) => showId === show.id).map(({ number }) => number))} />}
            {show.role === 'owner' && <Members show={show} me={account.id} />}
          </Flex>
        ))}
        {episodes.length === 0 && (
          <Text color="soft" mb="16px">
            {shows.length === 0 ? 'Begin with a show: give it a name below.' : 'There is no episode yet. Make the first one below; then invite your guests in Prepare.'}
          </Text>
        )}
        {episodes.map((episode) => (
          <EpisodeRow key={episode.id} episode={episode} />
        ))}
        <Box mt="28px">
          <NewShow />
        </Box>
      </Box>
    </Box>
  );
}

function EpisodeRow({ episode }: { episode: ListedEpisode }) {
  return (
    <Flex
      as="article"
      aria-label={episode.title}
      align="center"
      gap="24px"
      p="20px 22px"
      mb="12px"
      bg="surface"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="lane"
    >
      <Text fontFamily="heading" fontSize="34px" fontWeight="700" color="faint" minW="58px">
        {episode.number}
      </Text>
      <Box flex="1" minW="0">
        <Heading as="h3" fontFamily="heading" fontSize="21px" fontWeight="700" lineHeight="1.25">
          {episode.title}
        </Heading>
        <Text color="soft" fontSize="15px">
          {episode.show}
          {episode.callers.length > 0 && ` · with ${listInWords(episode.callers)}`}
          {episode.plannedAt && (
            <>
              {' · '}
              <LocalTime at={episode.plannedAt} />
            </>
          )}
        </Text>
        <Text color="soft" fontSize="14px" mt="4px">
          {episode.takes === 0
            ? 'Nothing recorded yet'
            : `${episode.takes} ${episode.takes === 1 ? 'take' : 'takes'}, ${formatDuration(episode.recordedSeconds)} recorded`}
          {episode.callRunning && (
            <Text as="span" color="tide">
              {' '}
              · the call is running
            </Text>
          )}
          {episode.openTake && (
            <Text as="span" color="ember">
              {' '}
              · a take is still open
            </Text>
          )}
        </Text>
      </Box>
      <Flex gap="10px">
        {episode.takes > 0 && <RowLink href={`/episodes/${episode.id}/takes`}>Takes</RowLink>}
        <RowLink href={`/episodes/${episode.id}/live`} lit>
          Open the desk
        </RowLink>
      </Flex>
    </Flex>
  );
}

function RowLink({ href, lit = false, children }: { href: string; lit?: boolean; children: string }) {
  return (
    <Link
      href={href}
      px="18px"
      py="9px"
      fontWeight="600"
      fontSize="15px"
      borderWidth="1px"
      borderRadius="control"
      bg={lit ? 'lamp' : 'raised'}
      color={lit ? 'onLight' : 'text'}
      borderColor={lit ? 'lamp' : 'hairline'}
      _hover={{ borderColor: 'lampCore' }}
    >
      {children}
    </Link>
  );
}
