'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { someInWords } from '@/core/hearing/names';
import { formatDuration } from '../format';
import { counted } from '../plural';
import { ThemeSwitch } from '../shell/theme-switch';
import { LocalTime } from '../local-time';
import { AccountBar, type SignedIn } from './account-bar';
import { OpenDemo, PutDemoAway } from './demo-buttons';
import { FirstSteps } from './first-steps';
import { LanternMark } from './lantern-mark';
import { NewEpisode } from './new-episode';
import { NewShow } from './new-show';
import type { OwnShow } from './own-show';

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
  /** The show's own (IANA). */
  timeZone: string | null;
  openTake: boolean;
}

/** The first screen: every show with its episodes, and what each still needs. */
export function EpisodeList({ account, shows, episodes }: { account: SignedIn; shows: OwnShow[]; episodes: ListedEpisode[] }) {
  return (
    <Box maxW="1120px" mx="auto" px="24px" py="28px">
      <Flex as="header" align="center" gap="14px" mb="26px">
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
        {shows.length === 0 ? (
          <FirstSteps />
        ) : (
          <>
            {shows.map((show) => (
              <ShowPart key={show.id} show={show} episodes={episodes.filter(({ showId }) => showId === show.id)} />
            ))}
            <Flex mt="26px" gap="24px" wrap="wrap" align="center">
              <NewShow />
              {!shows.some(({ demo }) => demo) && <OpenDemo />}
            </Flex>
          </>
        )}
      </Box>
    </Box>
  );
}

function ShowPart({ show, episodes }: { show: OwnShow; episodes: ListedEpisode[] }) {
  const mayWork = show.role !== 'producer';
  return (
    <Box as="section" aria-label={show.name} mb="26px">
      <Flex align="center" gap="10px" mb="10px" wrap="wrap">
        <Heading as="h2" fontFamily="heading" fontSize="19px" mr="auto">
          {show.name}
        </Heading>
        {mayWork && <RowLink href={`/shows/${show.id}/settings`} label={`Settings of ${show.name}`}>Show settings</RowLink>}
        {mayWork && <NewEpisode show={show} nextNumber={1 + Math.max(0, ...episodes.map(({ number }) => number))} first={episodes.length === 0} />}
        {show.demo && show.role === 'owner' && <PutDemoAway show={show.id} name={show.name} />}
      </Flex>
      {episodes.map((episode) => (
        <EpisodeRow key={episode.id} episode={episode} />
      ))}
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
      p="14px 22px"
      mb="10px"
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
          {episode.callers.length > 0 ? `with ${someInWords(episode.callers)}` : 'nobody invited yet'}
          {episode.plannedAt && (
            <>
              {' · '}
              <LocalTime at={episode.plannedAt} zone={episode.timeZone} />
            </>
          )}
        </Text>
        <Text color="soft" fontSize="14px" mt="4px">
          {episode.takes === 0
            ? 'Nothing recorded yet'
            : `${counted(episode.takes, 'take')}, ${formatDuration(episode.recordedSeconds)} recorded`}
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

function RowLink({ href, label, lit = false, children }: { href: string; label?: string; lit?: boolean; children: string }) {
  return (
    <Link
      href={href}
      aria-label={label}
      display="inline-flex"
      alignItems="center"
      h="34px"
      px="14px"
      fontWeight="600"
      fontSize="14px"
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
