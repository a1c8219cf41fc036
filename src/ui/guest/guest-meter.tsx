'use client';

import { Box, Text } from '@chakra-ui/react';
import { useEffect, useRef } from 'react';
import { gainToDb } from '@/core/dsp/decibels';
import { LEVEL_WORDS } from '@/core/measure/level-judgement';
import { useGuest, useGuestState } from './guest-context';

const FLOOR_DB = -54;
/** Where a good voice moves, dBFS. */
const GOOD_FROM_DB = -24;
const GOOD_TO_DB = -6;

const place = (db: number): number => Math.min(100, Math.max(0, 100 * (1 - db / FLOOR_DB)));

/** The microphone's level, moving, with the stretch that is good, and what to do in words. */
export function GuestMeter() {
  const guest = useGuest();
  const judgement = useGuestState((state) => state.judgement);
  const muted = useGuestState((state) => state.muted);
  const bar = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const draw = () => {
      if (!bar.current) return;
      const db = gainToDb(guest.input.level().peak);
      bar.current.style.transform = `scaleX(${place(db) / 100})`;
      bar.current.style.background = `var(${db > -1 ? '--hot' : '--flow'})`;
    };
    // A guest's phone has a call to carry: ten times a second is lively enough.
    const timer = setInterval(draw, 100);
    return () => clearInterval(timer);
  }, [guest]);
  return (
    <Box css={{ '--flow': 'colors.lamp', '--hot': 'colors.ember' }}>
      <Box position="relative" h="18px" bg="raised" borderRadius="full" overflow="hidden" aria-hidden>
        <Box position="absolute" insetY="0" left={`${place(GOOD_FROM_DB)}%`} right={`${100 - place(GOOD_TO_DB)}%`} bg="tideGround" />
        <Box ref={bar} position="absolute" inset="0" transformOrigin="left" transform="scaleX(0)" borderRadius="full" />
      </Box>
      <Text role="status" mt="6px" fontSize="15px" color={judgement === 'good' && !muted ? 'well' : judgement === 'too-loud' ? 'ember' : 'soft'}>
        {muted ? 'You are muted: nobody hears you.' : LEVEL_WORDS[judgement]}
      </Text>
    </Box>
  );
}
