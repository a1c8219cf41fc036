'use client';

import { Box, Grid, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { ASKED_ABOUT, type Ask, type AskedAbout } from '@/core/lines/check-messages';
import { ControlButton } from '../shell/control-button';
import { useGuest, useGuestState } from './guest-context';

const questions = ({ host }: Ask): Record<AskedAbout, string> => ({
  host: `Do you hear ${host}?`,
  sounds: 'Do you hear the music?',
  self: 'Do you hear yourself come back?',
});

/** The host asks what is heard here: one question after another, with answers that a thumb finds. */
export function AskCard() {
  const ask = useGuestState((state) => state.ask);
  return ask && <Questions key={ask.number} ask={ask} />;
}

function Questions({ ask }: { ask: Ask }) {
  const guest = useGuest();
  const [done, setDone] = useState(0);
  const about = ASKED_ABOUT[done];
  const answer = (yes: boolean) => {
    guest.answer({ type: 'answer', number: ask.number, about, yes });
    if (done + 1 === ASKED_ABOUT.length) guest.closeAsk();
    else setDone(done + 1);
  };
  return (
    <Box role="group" aria-label={`${ask.host} asks`} px="16px" py="16px" bg="raised" borderWidth="2px" borderColor="tide" borderRadius="lane">
      <Text fontSize="14px" color="soft">
        {ask.host} asks · {done + 1} of {ASKED_ABOUT.length}
      </Text>
      <Text fontSize="22px" fontWeight="700" lineHeight="1.25" my="8px">
        {questions(ask)[about]}
      </Text>
      <Grid templateColumns="1fr 1fr" gap="10px">
        <ControlButton h="60px" fontSize="20px" tone="tide" onClick={() => answer(true)}>
          Yes
        </ControlButton>
        <ControlButton h="60px" fontSize="20px" onClick={() => answer(false)}>
          No
        </ControlButton>
      </Grid>
    </Box>
  );
}
