'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import { Flag, Minus, Music, Pause, Plus, Shuffle } from 'lucide-react';
import { useRef, type ReactNode } from 'react';
import { useStore, type StoreApi } from 'zustand';
import type { TakeData } from '@/core/session/take-data';
import type { TakePlayer } from '@/live/takes/take-player';
import { useWidth } from '../canvas';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { panned, shareOf, ticks, zoomed, type View } from './view';

const RATE = 48000;
const Mark = chakra('button');
/** More marks than this are drawn on the tracks only. */
const MOST_MARKS = 60;

interface TimelineHeadProps {
  take: TakeData;
  player: TakePlayer;
  view: StoreApi<View>;
}

/** Times, markers, plan changes and played sounds of what is in view; how closely it is looked at. */
export function TimelineHead({ take, player, view: looks }: TimelineHeadProps) {
  const view = useStore(looks);
  const ruler = useRef<HTMLDivElement>(null);
  const width = useWidth(ruler);
  const length = take.lengthSamples;
  const middle = () => {
    const at = player.position();
    return at >= view.from && at <= view.to ? at : (view.from + view.to) / 2;
  };
  const events = [
    ...take.markers.map(({ id, atSample, name }) => ({ key: id, atSample, words: `Marker: ${name}`, icon: <Flag size={13} />, colour: 'tide' })),
    ...take.planChanges.map(({ atSample, words }, k) => ({ key: `plan-${k}`, atSample, words: `Plan changed. ${words}`, icon: <Shuffle size={13} />, colour: 'text' })),
    ...take.pauses.map(({ atSample, lengthSamples }, k) => ({ key: `pause-${k}`, atSample, words: `Recording was paused for ${formatDuration(lengthSamples / RATE)}`, icon: <Pause size={13} />, colour: 'ember' })),
    ...take.plays.map(({ atSample, name, lengthSamples }, k) => ({ key: `play-${k}`, atSample, words: `${name} played for ${(lengthSamples / RATE).toFixed(1)} s`, icon: <Music size={13} />, colour: 'lamp' })),
  ].filter(({ atSample }) => atSample >= view.from && atSample <= view.to);
  return (
    <Flex gap="16px" px="16px" mb="4px" align="flex-end">
      <Flex w="158px" flex="none" gap="4px" role="group" aria-label="How closely">
        <ControlButton h="28px" px="7px" aria-label="Look closer" title="Look closer: +" onClick={() => looks.setState(zoomed(view, 0.5, middle(), length))}>
          <Plus size={14} />
        </ControlButton>
        <ControlButton h="28px" px="7px" aria-label="Look wider" title="Look wider: −" onClick={() => looks.setState(zoomed(view, 2, middle(), length))}>
          <Minus size={14} />
        </ControlButton>
        <ControlButton h="28px" px="9px" fontSize="13px" onClick={() => looks.setState({ from: 0, to: length })}>
          Whole take
        </ControlButton>
      </Flex>
      <Box ref={ruler} flex="1" position="relative" h="44px" onWheel={(event) => looks.setState(panned(view, (event.deltaX || event.deltaY) / 1200, length))}>
        {ticks(view, width).map(({ sample, words }) => (
          <Across key={sample} view={view} at={sample}>
            <Text fontSize="12px" color="soft" position="absolute" bottom="0" borderLeftWidth="1px" borderColor="hairline" pl="4px" whiteSpace="nowrap">
              {words}
            </Text>
          </Across>
        ))}
        <Box role="group" aria-label="What happened">
          {placed(events.slice(0, MOST_MARKS), view).map(({ key, atSample, words, icon, colour, row }) => (
            <Across key={key} view={view} at={atSample}>
              <Mark type="button" position="absolute" top={`${14 * row - 4}px`} left="-8px" p="2px" color={colour} title={`${formatDuration(atSample / RATE)} ${words}`} aria-label={`${words}, at ${formatDuration(atSample / RATE)}`} onClick={() => player.seek(atSample)}>
                {icon}
              </Mark>
            </Across>
          ))}
        </Box>
      </Box>
      <Box w="150px" flex="none" />
    </Flex>
  );
}

/** Marks that would lie over each other lie below each other, in two rows. */
function placed<Mark extends { atSample: number }>(marks: readonly Mark[], view: View): (Mark & { row: number })[] {
  const sorted = [...marks].sort((a, b) => a.atSample - b.atSample);
  let last = { share: -1, row: 1 };
  return sorted.map((mark) => {
    const share = shareOf(view, mark.atSample);
    const row = share - last.share < 0.03 && last.row === 0 ? 1 : 0;
    last = { share, row };
    return { ...mark, row };
  });
}

function Across({ view, at, children }: { view: View; at: number; children: ReactNode }) {
  return (
    <Box position="absolute" insetY="0" style={{ left: `${100 * shareOf(view, at)}%` }}>
      {children}
    </Box>
  );
}
