'use client';

import { Box, chakra, Flex, Text } from '@chakra-ui/react';
import { Headphones, Repeat, TrendingDown } from 'lucide-react';
import { useRef, useState, type ReactNode } from 'react';
import { padSamples, type DeskPad } from '@/core/session/desk-data';
import { useFrame } from '../frame';
import { formatDb, formatDuration } from '../format';
import { KeyCap } from '../shell/key-cap';
import { LevelSlider } from '../shell/level-slider';
import { useDesk, useDeskState } from '../shell/desk-context';
import { setText } from '../set-text';

const PadButton = chakra('button');
const RATE = 48000;

/** One sound on the board: press it, see what is left, fade it, or hear it first. */
export function Pad({ pad, disabled, small }: { pad: DeskPad; disabled: boolean; small: boolean }) {
  const desk = useDesk();
  const cued = useDeskState((state) => state.cued === pad.sound);
  const [playing, setPlaying] = useState(false);
  const progress = useRef<HTMLDivElement>(null);
  const left = useRef<HTMLSpanElement>(null);
  const length = padSamples(pad);
  useFrame(() => {
    const position = desk.pads.positionOf(pad.sound);
    const isPlaying = position >= 0;
    if (isPlaying !== playing) setPlaying(isPlaying);
    if (!progress.current || !left.current) return;
    const share = `scaleX(${isPlaying ? (position / length).toFixed(2) : 0})`;
    if (progress.current.style.transform !== share) progress.current.style.transform = share;
    const words = !disabled && !desk.pads.isLoaded(pad.sound) ? 'loading …' : isPlaying ? `${formatDuration(Math.ceil((length - position) / RATE))} left` : formatDuration(length / RATE);
    setText(left.current, words);
    if (cued) desk.pads.noticeCueEnd();
  });
  return (
    <Box borderWidth="1px" borderColor={playing ? 'lamp' : cued ? 'tide' : 'hairline'} borderRadius="control" bg="raised" overflow="hidden">
      <PadButton
        type="button"
        disabled={disabled}
        aria-pressed={playing}
        title={`${pad.name}${pad.group ? `, in the group ${pad.group}` : ''}`}
        onPointerDown={(event) => {
          if (pad.mode === 'hold' && event.button === 0) desk.pads.press(pad.sound);
        }}
        onPointerUp={() => desk.pads.release(pad.sound)}
        onPointerLeave={() => desk.pads.release(pad.sound)}
        onClick={(event) => {
          // A press by keyboard has no pointer; a held pad was pressed by the pointer already.
          if (pad.mode !== 'hold' || event.detail === 0) desk.pads.press(pad.sound);
        }}
        position="relative"
        w="100%"
        textAlign="left"
        px={small ? '7px' : '10px'}
        pt={small ? '4px' : '6px'}
        pb="2px"
        cursor={disabled ? 'not-allowed' : 'pointer'}
      >
        <Box ref={progress} aria-hidden position="absolute" inset="0" transformOrigin="left" transform="scaleX(0)" bg="lampGround" />
        <Text position="relative" fontWeight="600" fontSize={small ? '12.5px' : '14px'} lineHeight="1.2" truncate>
          {pad.name}
        </Text>
        <Flex position="relative" justify="space-between" align="center" fontSize="12.5px" color="soft" minH="22px">
          <Flex as="span" align="center" gap="4px">
            <span ref={left}>{formatDuration(length / RATE)}</span>
            {pad.mode === 'loop' && <Repeat size={11} aria-label="loops" />}
            {pad.mode === 'hold' && !small && 'hold'}
          </Flex>
          {pad.key !== '' && <KeyCap>{pad.key.toUpperCase()}</KeyCap>}
        </Flex>
      </PadButton>
      {!small && <PadLevel pad={pad} />}
      {(!small || playing || cued) && (
        <Flex borderTopWidth="1px" borderColor="hairline" fontSize="12px">
          <PadMove label={cued ? `Stop listening to ${pad.name}` : `Listen to ${pad.name} first`} title="In your phones only." disabled={disabled} lit={cued} onClick={() => desk.pads.cue(cued ? null : pad.sound)}>
            <Headphones size={12} /> {!small && (cued ? 'Listening' : 'Listen')}
          </PadMove>
          <PadMove label={`Fade ${pad.name} out`} disabled={disabled || !playing} onClick={() => desk.pads.fade(pad.sound)}>
            <TrendingDown size={12} /> {!small && 'Fade'}
          </PadMove>
        </Flex>
      )}
    </Box>
  );
}

function PadLevel({ pad }: { pad: DeskPad }) {
  const desk = useDesk();
  const levelDb = useDeskState(({ padLevels }) => padLevels[pad.sound]);
  return (
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
  );
}

interface PadMoveProps {
  label: string;
  title?: string;
  disabled: boolean;
  lit?: boolean;
  onClick(): void;
  children: ReactNode;
}

function PadMove({ label, title, disabled, lit = false, onClick, children }: PadMoveProps) {
  return (
    <PadButton
      type="button"
      aria-label={label}
      title={title}
      aria-disabled={disabled}
      onClick={() => !disabled && onClick()}
      display="flex"
      alignItems="center"
      justifyContent="center"
      gap="4px"
      flex="1"
      py="3px"
      color={disabled ? 'faint' : lit ? 'tide' : 'soft'}
      cursor={disabled ? 'not-allowed' : 'pointer'}
      _hover={{ color: disabled ? 'faint' : 'text' }}
    >
      {children}
    </PadButton>
  );
}
