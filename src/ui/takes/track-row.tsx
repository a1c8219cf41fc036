'use client';

import { Box, chakra, Flex, Grid, Heading, Text } from '@chakra-ui/react';
import { Download } from 'lucide-react';
import { useStore } from 'zustand';
import type { TakeData, TakeTrack } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { formatDuration, formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { TrackWave } from './track-wave';

const DownloadLink = chakra('a');

const KINDS: Record<TakeTrack['kind'], string> = {
  voice: 'voice, as received',
  sounds: 'sounds',
  share: 'shared sound',
  talkback: 'talkback, private',
  feed: 'feed',
  return: 'return: what they heard',
  program: 'mix',
  phones: 'phones: what you heard',
  home: 'home track, as spoken',
  best: 'best of line and home',
  repaired: 'repaired voice',
};

interface TrackRowProps {
  take: TakeData;
  track: TakeTrack;
  player: TakePlayer;
}

/** One track: name, outline, measured levels, and what can be done with it. */
export function TrackRow({ take, track, player }: TrackRowProps) {
  const muted = useStore(player.store, (state) => state.muted.has(track.id));
  const solo = useStore(player.store, (state) => state.solo.has(track.id));
  return (
    <Grid
      as="article"
      aria-label={`${track.name}, ${KINDS[track.kind]}`}
      templateColumns="190px minmax(200px, 1fr) 92px auto"
      columnGap="16px"
      alignItems="center"
      px="16px"
      py="8px"
      mb="8px"
      minH="84px"
      bg="surface"
      borderWidth="1px"
      borderColor={solo ? 'lamp' : 'hairline'}
      borderRadius="lane"
    >
      <Box minW="0">
        <Heading as="h3" fontFamily="heading" fontSize="17px" lineHeight="1.2" truncate>
          {track.name}
        </Heading>
        <Text color="soft" fontSize="13px">
          {KINDS[track.kind]}
        </Text>
        <Text color="soft" fontSize="13px">
          {formatDuration(take.lengthSamples / 48000)} · {track.channels === 1 ? 'mono' : 'stereo'}
        </Text>
      </Box>
      <TrackWave take={take} track={track} player={player} dimmed={muted} />
      <Box fontSize="13px" lineHeight="1.5">
        <Text>
          <Text as="span" color="soft">
            peak
          </Text>{' '}
          {track.peakDb === null ? 'silent' : `${formatLevel(track.peakDb)} dB`}
        </Text>
        <Text>
          <Text as="span" color="soft">
            RMS
          </Text>{' '}
          {track.rmsDb === null ? 'silent' : `${formatLevel(track.rmsDb)} dB`}
        </Text>
      </Box>
      <Flex gap="7px">
        <ControlButton px="11px" tone={solo ? 'lit' : 'plain'} aria-pressed={solo} aria-label={`Solo ${track.name}`} onClick={() => player.toggleSolo(track.id)}>
          Solo
        </ControlButton>
        <ControlButton px="11px" tone={muted ? 'lit' : 'plain'} aria-pressed={muted} aria-label={`Mute ${track.name}`} onClick={() => player.toggleMute(track.id)}>
          {muted ? 'Muted' : 'Mute'}
        </ControlButton>
        <DownloadLink
          href={`/api/takes/${take.id}/tracks/${track.id}/wav`}
          download
          aria-label={`Download ${track.name}, ${KINDS[track.kind]}, as WAV`}
          display="inline-flex"
          alignItems="center"
          gap="6px"
          h="34px"
          px="11px"
          fontSize="14px"
          fontWeight="600"
          bg="raised"
          borderWidth="1px"
          borderColor="hairline"
          borderRadius="control"
          _hover={{ borderColor: 'lamp' }}
        >
          <Download size={15} /> WAV
        </DownloadLink>
      </Flex>
    </Grid>
  );
}
