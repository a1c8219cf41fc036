'use client';

import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { HomeRecording, TakeData, TakeTrack } from '@/core/session/take-data';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { Panel } from '../shell/panel';
import { progressInWords } from './task-words';
import type { Tasks } from './use-tasks';

const RATE = 48000;
const LOOK_EVERY_MS = 5000;
/** Places written out; more are counted. */
const MOST_PLACES = 8;

/** What the track's making measured. */
interface Made {
  parts: { driftPpm: number; jumps: number }[];
  notPlaced: number;
  better: { atSample: number; lengthSamples: number }[];
  betterSeconds: number;
  betterStretches: number;
}

interface HomePanelProps {
  take: TakeData;
  tasks: Tasks;
  onGo(sample: number): void;
}

/** What guests' own browsers recorded: how much of it is here, and what it is better for. */
export function HomePanel({ take, tasks, onGo }: HomePanelProps) {
  const router = useRouter();
  const arriving = take.homes.some(({ complete }) => !complete);
  useEffect(() => {
    if (!arriving) return;
    const timer = setInterval(() => router.refresh(), LOOK_EVERY_MS);
    return () => clearInterval(timer);
  }, [arriving, router]);
  const voices = take.tracks.filter(({ id }) => take.homes.some(({ track }) => track === id));
  if (voices.length === 0) return null;
  return (
    <Panel title="Recorded at home">
      <Flex as="ul" direction="column" gap="10px" listStyleType="none">
        {voices.map((voice) => (
          <Voice key={voice.id} take={take} voice={voice} homes={take.homes.filter(({ track }) => track === voice.id)} tasks={tasks} onGo={onGo} />
        ))}
      </Flex>
    </Panel>
  );
}

function Voice({ take, voice, homes, tasks, onGo }: { take: TakeData; voice: TakeTrack; homes: HomeRecording[]; tasks: Tasks; onGo(sample: number): void }) {
  const task = tasks.list?.find(({ kind, params }) => kind === 'home' && 'track' in params && params.track === voice.id);
  const isOpen = task?.state === 'waiting' || task?.state === 'running';
  const made = take.tracks.find(({ derivedFrom, kind }) => derivedFrom === voice.id && kind === 'home')?.made as Made | null | undefined;
  const sum = (of: 'keptSamples' | 'arrivedSamples') => homes.reduce((total, home) => total + home[of], 0) / RATE;
  const missing = homes.filter(({ complete }) => !complete);
  return (
    <Box as="li" fontSize="14px">
      <Heading as="h3" fontFamily="heading" fontSize="15px">
        {voice.name}
      </Heading>
      <Text color="soft">
        {missing.length === 0
          ? `All ${formatDuration(sum('arrivedSamples'))} are here.`
          : `${formatDuration(sum('arrivedSamples'))} of ${formatDuration(Math.max(sum('keptSamples'), sum('arrivedSamples')))} are here. ${missing.some(({ sending }) => sending) ? 'The rest is on its way.' : 'The page that has the rest is closed; it goes on when the link is opened again there.'}`}
      </Text>
      {made && <MadeWords made={made} voice={voice} onGo={onGo} />}
      {isOpen && <Text color="soft">{progressInWords('Placing', task)}</Text>}
      {task?.state === 'failed' && (
        <Text role="alert" color="ember">
          {task.problem}
        </Text>
      )}
      {!isOpen && (!made || missing.length > 0) && (
        <ControlButton h="26px" mt="4px" px="9px" fontSize="13px" aria-label={`Place what ${voice.name} recorded at home`} onClick={() => tasks.ask({ kind: 'home', params: { track: voice.id } })}>
          {missing.length > 0 ? 'Place what is here' : 'Place it'}
        </ControlButton>
      )}
    </Box>
  );
}

function MadeWords({ made, voice, onGo }: { made: Made; voice: TakeTrack; onGo(sample: number): void }) {
  const drifts = made.parts.map(({ driftPpm }) => `${driftPpm < -0.05 ? '−' : ''}${Math.abs(driftPpm).toFixed(1)}`).join(', ');
  return (
    <>
      <Text color="soft">
        Placed; the clock there runs {drifts} ppm off.{made.notPlaced > 0 && ` ${made.notPlaced} of its parts could not be placed.`}{' '}
        {made.betterStretches === 0 ? 'The line brought everything as it was spoken.' : `In ${made.betterStretches} ${made.betterStretches === 1 ? 'stretch' : 'stretches'}, ${made.betterSeconds.toFixed(1)} s in all, it is better than the line.`}
      </Text>
      {made.better.length > 0 && (
        <Flex as="ul" aria-label={`Better in the home track of ${voice.name}`} listStyleType="none" wrap="wrap" gap="5px" mt="4px">
          {made.better.slice(0, MOST_PLACES).map(({ atSample, lengthSamples }) => (
            <li key={atSample}>
              <ControlButton h="24px" px="8px" fontSize="12px" title={`${Math.round(lengthSamples / 48)} ms`} aria-label={`Go to ${formatDuration(atSample / RATE)}: better in the home track for ${Math.round(lengthSamples / 48)} ms`} onClick={() => onGo(atSample)}>
                {formatDuration(atSample / RATE)}
              </ControlButton>
            </li>
          ))}
          {made.betterStretches > MOST_PLACES && <Text as="li" color="soft">and {made.betterStretches - MOST_PLACES} more</Text>}
        </Flex>
      )}
    </>
  );
}
