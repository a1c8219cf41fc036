'use client';

import { Box, Flex, Grid, Text, chakra } from '@chakra-ui/react';
import { Square } from 'lucide-react';
import { useRef, useState } from 'react';
import type { DeskPad } from '@/core/session/desk-data';
import { useFrame } from '../frame';
import { formatDb, formatDuration } from '../format';
import { ControlButton } from '../shell/control-button';
import { KeyCap } from '../shell/key-cap';
import { LevelSlider } from '../shell/level-slider';
import { Panel } from '../shell/panel';
import { useDesk, useDeskState } from '../shell/desk-context';

const PadButton = chakra('button');
const RATE = 48000;

/** Sounds to share into the call, each on a key. */
export function PadsPanel() {
  const desk = useDesk();
  const running = useDeskState((state) => state.call === 'running');
  const pads = useDeskState((state) => state.pads);
  const stopKey = useDeskState(({ keys }) => keys['stop-sounds']);
  return (
    <Panel
      title="Sounds"
      action={
        <ControlButton h="30px" px="10px" disabled={!running} onClick={() => desk.pads.stopAll()}>
          <Square size={12} fill="currentColor" /> Stop all sounds <KeyCap>{stopKey.toUpperCase()}</KeyCap>
        </ControlButton>
      }
    >
      {pads.length === 0 && (
        <Text fontSize="14px" color="soft">
          No pads yet. Add sound files in Prepare.
        </Text>
      )}
      <Grid templateColumns="1fr 1fr" gap="8px">
        {pads.map((pad) => (
          <Pad key={pad.sound} pad={pad} disabled={!running} />
        ))}
      </Grid>
    </Panel>
  );
}

function Pad({ pad, disabled }: { pad: DeskPad; disabled: boolean }) {
  const desk = useDesk();
  const levelDb = useDeskState(({ padLevels }) => padLevels[pad.sound]);
  const [playing, setPlaying] = useState(false);
  const progress = useRef<HTMLDivElement>(null);
  const left = useRef<HTMLSpanElement>(null);
  useFrame(() => {
    const position = desk.pads.positionOf(pad.sound);
    const isPlaying = position >= 0;
    if (isPlaying !== playing) setPlaying(isPlaying);
    if (!progress.current || !left.current) return;
    progress.current.style.width = isPlaying ? `${(100 * position) / pad.lengthSamples}%` : '0';
    const seconds = (pad.lengthSamples - Math.max(0, position)) / RATE;
    const words = isPlaying ? `${formatDuration(Math.ceil(seconds))} left` : formatDuration(pad.lengthSamples / RATE);
    if (left.current.textContent !== words) left.current.textContent = words;
  });
  return (
    <Box borderWidth="1px" borderColor={playing ? 'lamp' : 'hairline'} borderRadius="control" bg="raised" overflow="hidden">
      <PadButton
        type="button"
        disabled={disabled}
        aria-pressed={playing}
        onClick={() => desk.pads.press(pad.sound)}
        position="relative"
        w="100%"
        textAlign="left"
        px="10px"
        pt="6px"
        pb="2px"
        cursor={disabled ? 'not-allowed' : 'pointer'}
      >
        <Box ref={progress} aria-hidden position="absolute" insetY="0" left="0" bg="lampGround" />
        <Text position="relative" fontWeight="600" fontSize="14px" lineHeight="1.2" truncate>
          {pad.name}
        </Text>
        <Flex position="relative" justify="space-between" align="center" fontSize="12.5px" color="soft">
          <span>
            <span ref={left}>{formatDuration(pad.lengthSamples / RATE)}</span>
            {pad.loops && ' · loops'}
          </span>
          <KeyCap>{pad.key}</KeyCap>
        </Flex>
      </PadButton>
      <Flex align="center" gap="8px" px="10px" pb="3px">
        <Box flex="1">
          <LevelSlider
            label={`Level of ${pad.name}`}
            value={levelDb}
            min={-36}
            max={6}
            onChange={(db) => desk.pads.setLevel(pad.sound, db)}
            onChangeEnd={() => void desk.pads.keepLevel(pad.sound)}
          />
        </Box>
        <Text fontSize="12px" color="soft" minW="46px" textAlign="right">
          {formatDb(levelDb)}
        </Text>
      </Flex>
    </Box>
  );
}
