'use client';

import { Box, chakra, Flex, Heading, Text } from '@chakra-ui/react';
import { Download, Pause, Play } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { createStore, useStore, type StoreApi } from 'zustand';
import { listInWords } from '@/core/hearing/names';
import { GAP_WORDS, isFault } from '@/core/takes/gaps';
import type { TakeData } from '@/core/session/take-data';
import { neverInCall } from '@/core/takes/presence';
import { TakePlayer } from '@/live/takes/take-player';
import { useFrame } from '../frame';
import { setText } from '../set-text';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { KeyCap } from '../shell/key-cap';
import { useKeys } from '../use-keys';
import { ChecksPanel } from './checks-panel';
import { ExportPanel, packageAddress } from './export-panel';
import { HomePanel } from './home-panel';
import { LineCheckNote } from './line-check-note';
import { LinesNote } from './lines-note';
import { LocalTime } from '../local-time';
import { MarkersNote } from './markers-note';
import { PlaysNote } from './plays-note';
import { TakeWords } from './take-words';
import { TimelineHead } from './timeline-head';
import { TrackRow } from './track-row';
import { useTasks } from './use-tasks';
import { useFreshAfterRecording, useIsRecorded } from './being-recorded';
import { showing, zoomed, type View } from './view';

const RATE = 48000;
const STEP_SECONDS = 5;
/** Gaps written out; all are drawn. */
const MOST_GAPS = 12;

/** One take: every track on one time axis, to hear, compare and take away. */
export function TakePage({ take }: { take: TakeData }) {
  const [player] = useState(() => new TakePlayer(take));
  useEffect(() => () => player.close(), [player]);
  return take.state === 'recording' ? <OpenTake number={take.number} /> : <SealedTake take={take} player={player} />;
}

function OpenTake({ number }: { number: number }) {
  const running = useIsRecorded(number);
  useFreshAfterRecording();
  return (
    <Box as="main" p="32px">
      <Heading as="h2" fontFamily="heading" fontSize="21px">
        Take {number} {running ? 'is being recorded' : 'was left open'}
      </Heading>
      <Text color="soft" mt="8px">
        {running ? 'Once it is stopped it can be heard and downloaded here.' : 'Seal it in Live; then it can be heard and downloaded here.'}
      </Text>
    </Box>
  );
}

function SealedTake({ take, player }: { take: TakeData; player: TakePlayer }) {
  // A store, so that a look that moves draws the tracks anew and not the whole page.
  const [view] = useState(() => createStore<View>(() => ({ from: 0, to: take.lengthSamples })));
  const tasks = useTasks(take.id);
  const away = neverInCall(take.gaps, take.lengthSamples);
  const show = (sample: number) => view.setState((now) => showing(now, sample, take.lengthSamples));
  const zoom = (factor: number) => view.setState((now) => zoomed(now, factor, player.position(), take.lengthSamples));
  useKeys({
    '+': { press: () => zoom(0.5) },
    '=': { press: () => zoom(0.5) },
    '-': { press: () => zoom(2) },
  });
  // What plays stays in sight.
  useFrame(() => {
    if (player.store.getState().playing === 'playing') show(player.position());
  });
  return (
    <Flex as="main" direction="column" flex="1" minH="0" px="20px" py="14px" gap="12px">
      <Flex align="center" gap="18px" wrap="wrap">
        <Transport player={player} take={take} />
        <Box>
          <Heading as="h2" fontFamily="heading" fontSize="20px" lineHeight="1.2">
            Take {take.number}
            {take.name && `: ${take.name}`}
          </Heading>
          <Text color="soft" fontSize="14px">
            <LocalTime at={take.startedAt} /> · {take.tracks.length} tracks of {formatDuration(take.lengthSamples / RATE)}
          </Text>
        </Box>
        <DownloadAll take={take} />
      </Flex>
      {take.binnedAt && (
        <Text role="status" bg="emberGround" borderRadius="control" px="14px" py="8px" fontSize="14px">
          This take is in the bin and goes for good 30 days after it was put there. “Bring it back” keeps it.
        </Text>
      )}
      <GapNote take={take} away={away} />
      {take.leftOut.length > 0 && (
        <Text fontSize="14px" color="soft">
          Left out of this take: {take.leftOut.map(({ name, reason }) => `${name} (${reason})`).join(', ')}
        </Text>
      )}
      <Flex flex="1" minH="0" gap="16px" direction={{ base: 'column', lg: 'row' }}>
        <Flex direction="column" flex="1" minW="0">
          <TimelineHead take={take} player={player} view={view} />
          <Box as="section" aria-label="Tracks" flex="1" minH="0" overflowY="auto">
            {take.tracks
              .filter(({ id }) => !away.has(id))
              .map((track) => (
                <TrackRow key={track.id} take={take} track={track} player={player} view={view} />
              ))}
            <NeverThere take={take} away={away} player={player} view={view} />
          </Box>
        </Flex>
        <Flex as="aside" aria-label="About this take" direction="column" gap="12px" w={{ base: '100%', lg: '326px' }} flex="none" overflowY="auto" pb="8px">
          <ChecksPanel take={take} player={player} tasks={tasks} onShow={show} />
          <HomePanel take={take} tasks={tasks} onGo={(sample) => { player.seek(sample); show(sample); }} />
          <ExportPanel take={take} tasks={tasks} />
          <TakeWords take={take} />
          <LineCheckNote take={take} />
          <ConsentNote take={take} />
          <LinesNote take={take} />
          <PlaysNote take={take} />
          <MarkersNote take={take} player={player} />
        </Flex>
      </Flex>
    </Flex>
  );
}

/** Everybody who was invited and did not come, in one line; their tracks, which are silent, open from it. */
function NeverThere({ take, away, player, view }: { take: TakeData; away: ReadonlySet<string>; player: TakePlayer; view: StoreApi<View> }) {
  const tracks = take.tracks.filter(({ id }) => away.has(id));
  if (tracks.length === 0) return null;
  return (
    <Box as="details" mt="8px" fontSize="14px" color="soft">
      <summary>
        Not in this call: {listInWords(tracks.map(({ name }) => name))}. {tracks.length === 1 ? 'The track is' : 'Their tracks are'} silent from beginning to end.
      </summary>
      {tracks.map((track) => (
        <TrackRow key={track.id} take={take} track={track} player={player} view={view} />
      ))}
    </Box>
  );
}

function Transport({ player, take }: { player: TakePlayer; take: TakeData }) {
  const playing = useStore(player.store, (state) => state.playing);
  const trouble = useStore(player.store, (state) => state.trouble);
  const clock = useRef<HTMLSpanElement>(null);
  const toggle = () => (playing === 'stopped' ? void player.play() : player.pause());
  useKeys({
    ' ': { press: toggle },
    arrowleft: { press: () => player.seek(player.position() - STEP_SECONDS * RATE) },
    arrowright: { press: () => player.seek(player.position() + STEP_SECONDS * RATE) },
    home: { press: () => player.seek(0) },
  });
  useFrame(() => setText(clock.current, formatDuration(player.position() / RATE)));
  return (
    <Flex align="center" gap="12px">
      <ControlButton tone="lamp" h="40px" minW="150px" onClick={toggle}>
        {playing === 'stopped' ? <Play size={17} /> : <Pause size={17} />}
        {playing === 'stopped' ? 'Play all' : 'Pause'}
        <KeyCap>Space</KeyCap>
      </ControlButton>
      <Text fontFamily="heading" fontSize="24px" fontWeight="700" minW="140px">
        <span ref={clock}>0:00</span>
        <Text as="span" color="soft" fontSize="15px" fontWeight="400">
          {' '}
          of {formatDuration(take.lengthSamples / RATE)}
        </Text>
      </Text>
      {trouble && (
        <Text role="alert" color="ember" fontSize="14px">
          {trouble}
        </Text>
      )}
    </Flex>
  );
}

const DownloadLink = chakra('a');

function DownloadAll({ take }: { take: TakeData }) {
  return (
    <DownloadLink
      href={packageAddress(take)}
      download
      ml="auto"
      display="inline-flex"
      alignItems="center"
      gap="8px"
      px="16px"
      h="40px"
      fontWeight="600"
      fontSize="15px"
      bg="raised"
      borderWidth="1px"
      borderColor="hairline"
      borderRadius="control"
      _hover={{ borderColor: 'lamp' }}
    >
      <Download size={17} /> Download all tracks (ZIP)
    </DownloadLink>
  );
}

/** What is missing is said before anything is heard; that somebody came late is no fault. */
function GapNote({ take, away }: { take: TakeData; away: ReadonlySet<string> }) {
  // Where home has nothing, the line is there.
  const gaps = take.gaps.filter(({ cause, track }) => cause !== 'not-at-home' && !away.has(track));
  const faults = gaps.filter(({ cause }) => isFault(cause));
  if (gaps.length === 0) return null;
  const seconds = faults.reduce((sum, gap) => sum + gap.lengthSamples, 0) / RATE;
  const long = seconds < 1 ? `${Math.max(1, Math.round(1000 * seconds))} ms` : `${seconds.toFixed(2)} s`;
  return (
    <Box as="section" aria-label="Gaps" fontSize="14px" bg={faults.length > 0 ? 'emberGround' : 'surface'} borderRadius="control" px="14px" py="8px">
      {faults.length > 0 && (
        <Text>
          {faults.length === 1 ? `1 gap of ${long} holds` : `${faults.length} gaps, ${long} in all, hold`} silence because the sound did not arrive. {faults.length === 1 ? 'It is' : 'They are'} marked on the tracks.
        </Text>
      )}
      <Flex as="ul" wrap="wrap" columnGap="18px" listStyleType="none" color="soft">
        {gaps.slice(0, MOST_GAPS).map((gap) => (
          <li key={`${gap.track}-${gap.atSample}`}>
            {take.tracks.find(({ id }) => id === gap.track)?.name}: {GAP_WORDS[gap.cause]}, {formatDuration(gap.atSample / RATE)} to {formatDuration((gap.atSample + gap.lengthSamples) / RATE)}
          </li>
        ))}
        {gaps.length > MOST_GAPS && <li>and {gaps.length - MOST_GAPS} more</li>}
      </Flex>
    </Box>
  );
}

/** Who agreed to be recorded, when, and to what. */
function ConsentNote({ take }: { take: TakeData }) {
  if (take.consents.length === 0) return null;
  return (
    <Box as="details" fontSize="14px" color="soft">
      <summary>
        {take.consents.length === 1 ? 'One guest' : `${take.consents.length} guests`} agreed to be recorded: {listInWords(take.consents.map(({ name }) => name))}
      </summary>
      {take.consents.map(({ seat, name, wording, agreedAt }) => (
        <Text key={seat} mt="4px">
          {name}, <LocalTime at={agreedAt} />: “{wording}”
        </Text>
      ))}
    </Box>
  );
}
