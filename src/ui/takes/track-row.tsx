'use client';

import { Box, chakra, Flex, Grid, Heading, Text } from '@chakra-ui/react';
import { Download } from 'lucide-react';
import { useStore, type StoreApi } from 'zustand';
import type { TakeData, TakeTrack } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { formatDb, formatLevel } from '../format';
import { ControlButton } from '../shell/control-button';
import { LevelSlider } from '../shell/level-slider';
import { TrackWave } from './track-wave';
import type { View } from './view';

const DownloadLink = chakra('a');

export const KINDS: Record<TakeTrack['kind'], string> = {
  voice: 'voice, as received',
  sounds: 'sounds',
  share: 'shared sound',
  input: 'input',
  talkback: 'talkback, private',
  feed: 'feed',
  return: 'return: what they heard',
  program: 'mix',
  phones: 'phones: what you heard',
  processed: 'voice, as mixed',
  repaired: 'repaired voice',
  quietened: 'voice without noise',
  home: 'home track',
  best: 'best of both',
};

interface TrackRowProps {
  take: TakeData;
  track: TakeTrack;
  player: TakePlayer;
  view: StoreApi<View>;
}

const LEAST_DB = -30;
const MOST_DB = 12;

/** One track: name, outline, measured levels, and what can be done with it. */
export function TrackRow({ take, track, player, view }: TrackRowProps) {
  const muted = useStore(player.store, (state) => state.muted.has(track.id));
  const solo = useStore(player.store, (state) => state.solo.has(track.id));
  const level = useStore(player.store, (state) => state.levels[track.id] ?? 0);
  const origin = take.tracks.find(({ id }) => id === track.derivedFrom);
  /** One switch between a repaired voice and what it was. */
  const compare = () => {
    if (!origin) return;
    for (const id of player.store.getState().solo) player.toggleSolo(id);
    player.toggleSolo(solo ? origin.id : track.id);
  };
  return (
    <Grid
      as="article"
      aria-label={`${track.name}, ${KINDS[track.kind]}`}
      templateColumns="158px minmax(200px, 1fr) 150px"
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
        <Heading as="h3" fontFamily="heading" fontSize="16px" lineHeight="1.2" truncate title={track.name}>
          {track.name}
        </Heading>
        <Text color="soft" fontSize="13px" truncate>
          {KINDS[track.kind]}
        </Text>
        <Text fontSize="13px" color="soft" whiteSpace="nowrap">
          {track.peakDb === null ? 'silent' : `peak ${formatLevel(track.peakDb)}, RMS ${track.rmsDb === null ? '–' : formatLevel(track.rmsDb)} dB`}
        </Text>
      </Box>
      <TrackWave take={take} track={track} player={player} view={view} dimmed={muted} />
      <Box>
        <Flex gap="6px">
          <ControlButton h="28px" px="9px" fontSize="13px" tone={solo ? 'lit' : 'plain'} aria-pressed={solo} aria-label={`Solo ${track.name}`} onClick={() => player.toggleSolo(track.id)}>
            Solo
          </ControlButton>
          <ControlButton h="28px" px="9px" fontSize="13px" tone={muted ? 'lit' : 'plain'} aria-pressed={muted} aria-label={`Mute ${track.name}`} onClick={() => player.toggleMute(track.id)}>
            {muted ? 'Muted' : 'Mute'}
          </ControlButton>
          <DownloadLink href={`/api/takes/${take.id}/tracks/${track.id}/wav`} download aria-label={`Download ${track.name}, ${KINDS[track.kind]}, as WAV`} title="Download as WAV" display="inline-flex" alignItems="center" px="4px" color="soft" _hover={{ color: 'lamp' }}>
            <Download size={16} />
          </DownloadLink>
        </Flex>
        <Flex align="center" gap="8px" mt="4px">
          <Box flex="1">
            <LevelSlider label={`Level of ${track.name}`} value={level} min={LEAST_DB} max={MOST_DB} onChange={(db) => player.setLevel(track.id, db)} />
          </Box>
          <Text fontSize="12px" color="soft" w="42px" textAlign="right">
            {formatDb(level)}
          </Text>
        </Flex>
        {origin && (
          <ControlButton h="26px" mt="3px" px="9px" fontSize="13px" onClick={compare}>
            {solo ? 'Hear the original' : 'Hear this alone'}
          </ControlButton>
        )}
      </Box>
    </Grid>
  );
}
