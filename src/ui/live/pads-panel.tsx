'use client';

import { Box, Flex, Grid, Text } from '@chakra-ui/react';
import { Square } from 'lucide-react';
import { useRef, useState } from 'react';
import { padSamples, type DeskPad } from '@/core/session/desk-data';
import type { DeskSession } from '@/live/desk/desk-session';
import { useReading } from '../frame';
import { formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { KeyCap } from '../shell/key-cap';
import { Panel } from '../shell/panel';
import { useDesk, useDeskState } from '../shell/desk-context';
import { Pad } from './pad';
import { setText } from '../set-text';
import { ShareStrip } from './share-strip';

const RATE = 48000;
/** With more pads than this each is small. */
const ROOMY = 8;

/** Sounds to share into the call, each on a key. */
export function PadsPanel() {
  const desk = useDesk();
  const running = useDeskState((state) => state.call === 'running');
  const pads = useDeskState((state) => state.pads);
  const listenFirst = useDeskState((state) => state.listenFirst);
  const keys = useDeskState((state) => state.keys);
  const small = pads.length > ROOMY;
  return (
    <Panel
      title="Sounds"
      action={
        <Flex gap="6px" wrap="wrap">
          <ControlButton h="30px" px={{ base: '6px', xl: '9px' }} disabled={!running} aria-label="Stop all sounds" onClick={() => desk.pads.stopAll()}>
            <Box as="span" aria-hidden display={{ base: 'none', xl: 'block' }}>
              <Square size={11} fill="currentColor" />
            </Box>
            Stop
            <Box as="span" display={{ base: 'none', xl: 'inline' }}>
              all
            </Box>
            <KeyCap>{keys['stop-sounds'].toUpperCase()}</KeyCap>
          </ControlButton>
          <ControlButton h="30px" px={{ base: '6px', xl: '9px' }} disabled={!running} aria-label="Fade all sounds out" onClick={() => desk.pads.fadeAll()}>
            Fade <KeyCap>{keys['fade-sounds'].toUpperCase()}</KeyCap>
          </ControlButton>
        </Flex>
      }
    >
      <NowPlaying />
      {pads.length === 0 && (
        <Text fontSize="14px" color="soft">
          No pads yet. Add sound files in Sounds.
        </Text>
      )}
      <Grid templateColumns={small ? '1fr 1fr 1fr' : '1fr 1fr'} gap={small ? '5px' : '8px'} maxH={small ? '264px' : undefined} overflowY={small ? 'auto' : undefined}>
        {pads.map((pad) => (
          <Pad key={pad.sound} pad={pad} disabled={!running} small={small} />
        ))}
      </Grid>
      <Text fontSize="12.5px" color={listenFirst ? 'tide' : 'soft'} mt="6px" role="status">
        {listenFirst ? 'A pad you press now plays in your phones only.' : `Hold ${keys['listen-first'].toUpperCase()} and press a pad: your phones only.`}
      </Text>
      <ShareStrip />
    </Panel>
  );
}

/** What plays, how long it still lasts, large; and the way from theme to talk. */
function NowPlaying() {
  const desk = useDesk();
  const key = useDeskState((state) => state.keys['under-talk']);
  const pads = useDeskState((state) => state.pads);
  const [sound, setSound] = useState<string | null>(null);
  const left = useRef<HTMLSpanElement>(null);
  useReading(() => {
    const next = soonestToEnd(desk);
    if ((next?.pad.sound ?? null) !== sound) setSound(next?.pad.sound ?? null);
    setText(left.current, next ? formatDuration(Math.ceil(next.secondsLeft)) : '');
  });
  const pad = pads.find((one) => one.sound === sound);
  if (!pad) return null;
  return (
    <Flex aria-label="Playing now" role="group" align="center" wrap="wrap" gap="10px" mb="8px">
      <Text fontFamily="heading" fontSize="28px" fontWeight="700" lineHeight="1" minW="66px">
        <span ref={left} />
      </Text>
      <Box flex="1 1 76px" minW="0" fontSize="13px" lineHeight="1.25">
        <Text truncate title={pad.name}>
          {pad.name}
        </Text>
        <Text color="soft">{pad.mode === 'loop' ? 'this round' : 'left'}</Text>
      </Box>
      <ControlButton h="30px" px="9px" title="Under the talk, held there, and out. Once more: out now." aria-label="From theme to talk" onClick={() => desk.pads.underTalk()}>
        Under talk <KeyCap>{key.toUpperCase()}</KeyCap>
      </ControlButton>
    </Flex>
  );
}

/** Of what plays, the one that ends first; loops only where nothing else plays. */
function soonestToEnd(desk: DeskSession): { pad: DeskPad; secondsLeft: number } | null {
  let best: { pad: DeskPad; secondsLeft: number } | null = null;
  for (const pad of desk.store.getState().pads) {
    const position = desk.pads.positionOf(pad.sound);
    if (position < 0) continue;
    const secondsLeft = (padSamples(pad) - position) / RATE;
    const sooner = !best || (best.pad.mode === 'loop' && pad.mode !== 'loop') || (best.pad.mode === pad.mode && secondsLeft < best.secondsLeft);
    if (sooner) best = { pad, secondsLeft };
  }
  return best;
}
