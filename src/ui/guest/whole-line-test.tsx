'use client';

import { Box, Text } from '@chakra-ui/react';
import type { TestCallPhase } from '@/core/session/play-back';
import { ControlButton } from '../shell/control-button';
import { useTestCallPhase } from '../use-test-call-phase';
import { useGuest, useGuestState } from './guest-context';

const WORDS: Record<TestCallPhase, string> = {
  tone: 'A tone, and then it is your turn …',
  speak: 'Speak now …',
  turn: 'Two tones …',
  play: 'This is you, after the whole way to the desk and back.',
  over: 'Once more, if you like.',
};

/** While they wait: their own voice back over the whole line. */
export function WholeLineTest() {
  const guest = useGuest();
  const test = useGuestState((state) => state.wholeLine);
  const muted = useGuestState((state) => state.muted);
  const open = useGuestState((state) => state.microphone.kind === 'open');
  const phase = useTestCallPhase(test !== null && typeof test === 'object' ? test.beganAt : null);
  const busy = test === 'asked' || (phase !== null && phase !== 'over');
  const words = muted
    ? 'You are muted: let yourself be heard first, and then hear yourself over the whole line.'
    : test === 'asked'
      ? 'The desk is asked …'
      : test === 'not-now'
        ? 'Not now: the desk is measuring something. Try again in half a minute.'
        : phase
          ? WORDS[phase]
          : 'Speak for six seconds after a tone. The desk records it and sends it back, so that you hear what arrives there. Nobody else hears it.';
  return (
    <Box>
      <Text role="status" aria-label="Your own voice" fontSize="16px" color={phase === 'speak' ? 'lamp' : 'soft'}>
        {words}
      </Text>
      <ControlButton mt="12px" h="42px" disabled={!open || muted || busy} onClick={() => guest.hearMyself()}>
        {busy ? 'One moment …' : 'Hear yourself'}
      </ControlButton>
    </Box>
  );
}
