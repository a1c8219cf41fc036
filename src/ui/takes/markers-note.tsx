'use client';

import { chakra, Flex } from '@chakra-ui/react';
import { Flag } from 'lucide-react';
import type { TakeData } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';

const RATE = 48000;
const Link = chakra('a');

/** The take's markers: each leads to its place in the sound. */
export function MarkersNote({ take, player }: { take: TakeData; player: TakePlayer }) {
  if (take.markers.length === 0) return null;
  return (
    <Flex as="section" aria-label="Markers" align="center" gap="6px" wrap="wrap" fontSize="14px">
      {take.markers.map(({ id, atSample, lengthSamples, name }) => (
        <ControlButton key={id} h="28px" px="9px" fontSize="13px" onClick={() => player.seek(atSample)}>
          <Flag size={12} /> {formatDuration(atSample / RATE)} {name}
          {lengthSamples > 0 && ` (${formatDuration(lengthSamples / RATE)})`}
        </ControlButton>
      ))}
      <Link href={`/api/takes/${take.id}/markers?as=csv`} download textDecoration="underline" color="soft">
        Markers as CSV
      </Link>
      <Link href={`/api/takes/${take.id}/markers?as=vtt`} download textDecoration="underline" color="soft">
        as WebVTT
      </Link>
    </Flex>
  );
}
