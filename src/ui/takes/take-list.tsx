'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import { CircleAlert, CircleCheck, CircleDashed, CircleDot, TriangleAlert } from 'lucide-react';
import NextLink from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { TakeSummary } from '@/core/checks/take-summary';
import type { ListedTake } from '@/core/session/listed-take';
import type { TaskKind } from '@/core/tasks/task';
import { formatDuration, sizeInWords } from '../format';
import { mayIn } from '@/core/access/rights';
import { LocalTime } from '../local-time';
import { useDesk } from '../shell/desk-context';
import { useFreshAfterRecording, useIsRecorded } from './being-recorded';
import { TakeInButton } from './take-in-button';
import { progressInWords } from './task-words';

const Link = chakra(NextLink);
const LOOK_EVERY_MS = 2000;

const TASK_WORDS: Record<TaskKind, string> = { check: 'Checking', export: 'Exporting', repair: 'Repairing', quieten: 'Suppressing noise', home: 'Placing what was recorded at home' };

/** All takes of an episode, newest first; what is in the bin stands apart. */
export function TakeList({ episode, takes, showBytes }: { episode: string; takes: ListedTake[]; showBytes: number }) {
  const binned = takes.filter((take) => take.binned);
  const kept = takes.filter((take) => !take.binned);
  const { role } = useDesk().data;
  useFreshAfterRecording();
  useFreshList(takes.some(({ tasks, summary: { homes } }) => tasks.length > 0 || homes.here < homes.all));
  return (
    <Box as="main" w="100%" p="16px 20px" flex="1" minH="0" overflowY="auto">
      <Box maxW="1240px" mx="auto">
        <Flex align="baseline" justify="space-between" mb="12px">
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
            <Link href={`/episodes/${episode}/live`} color="lampCore" textDecoration="underline">
              Live
            </Link>
            , start the call and press Record: every voice gets a track of its own.
          </Text>
        )}
        {kept.map((take) => (
          <TakeRow key={take.id} episode={episode} take={take} />
        ))}
        {mayIn(role, 'record') && (
          <Box mt="6px">
            <TakeInButton episode={episode} />
          </Box>
        )}
        {binned.length > 0 && (
          <Box as="details" mt="18px">
            <chakra.summary mb="10px" color="soft">
              In the bin: {binned.length}
            </chakra.summary>
            {binned.map((take) => (
              <TakeRow key={take.id} episode={episode} take={take} />
            ))}
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** Looks again while something is still being done. */
function useFreshList(busy: boolean): void {
  const router = useRouter();
  useEffect(() => {
    if (!busy) return;
    const timer = setInterval(() => router.refresh(), LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [busy, router]);
}

function TakeRow({ episode, take }: { episode: string; take: ListedTake }) {
  const { summary, tasks } = take;
  const running = useIsRecorded(take.number) && take.state === 'recording';
  const { homes } = summary;
  return (
    <Link href={`/episodes/${episode}/takes/${take.id}`} display="block" p="14px 20px" mb="10px" bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" _hover={{ borderColor: 'lamp' }}>
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
          {take.state === 'sealed' ? formatDuration(take.lengthSamples / 48000) : running ? 'recording' : 'still open'}
        </Text>
      </Flex>
      {summary.people.length > 0 && (
        <Flex as="ul" aria-label="Who is in it" listStyleType="none" gap="6px 18px" wrap="wrap" mt="8px">
          {summary.people.map(({ name, share }) => (
            <Box as="li" key={name} fontSize="14px" minW="104px">
              {name}
              {share !== null && (
                <Text as="span" color="soft">
                  {' '}
                  {Math.round(100 * share)} %
                </Text>
              )}
              {share !== null && (
                <Box h="4px" mt="3px" bg="raised" borderRadius="full" overflow="hidden" aria-hidden>
                  <Box h="100%" w={`${100 * share}%`} bg="tide" />
                </Box>
              )}
            </Box>
          ))}
        </Flex>
      )}
      <Flex align="center" gap="8px" mt="10px" fontSize="14px" wrap="wrap">
        {running ? <BeingRecorded /> : <Verdict summary={summary} />}
        {homes.all > 0 && (
          <Text color={homes.here < homes.all ? 'lampCore' : 'soft'}>
            · {homes.here === homes.all ? `${homes.all === 1 ? 'the home recording is' : `all ${homes.all} home recordings are`} here` : `${homes.here} of ${homes.all} home recordings are here`}
          </Text>
        )}
        {tasks.map((task) => (
          <Text key={task.id} color="tide">
            · {progressInWords(TASK_WORDS[task.kind], task)}
          </Text>
        ))}
      </Flex>
      {take.note && (
        <Text color="soft" fontSize="14px" mt="4px" lineClamp="2">
          {take.note}
        </Text>
      )}
    </Link>
  );
}

const MARKS = { good: CircleCheck, notice: TriangleAlert, fault: CircleAlert, open: CircleAlert, unchecked: CircleDashed };
const COLOURS = { good: 'well', notice: 'lampCore', fault: 'ember', open: 'ember', unchecked: 'soft' };

function BeingRecorded() {
  return (
    <Flex align="center" gap="7px" color="ember">
      <CircleDot size={16} aria-hidden />
      <Text>It is being recorded.</Text>
    </Flex>
  );
}

function Verdict({ summary: { verdict, words, more } }: { summary: TakeSummary }) {
  const Mark = MARKS[verdict];
  return (
    <Flex align="center" gap="7px" color={COLOURS[verdict]} minW="0">
      <Mark size={16} aria-hidden style={{ flex: 'none' }} />
      <Text>
        {words}
        {more > 0 && ` And ${more} more.`}
      </Text>
    </Flex>
  );
}
