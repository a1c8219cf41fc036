'use client';

import { Box, Grid, Text } from '@chakra-ui/react';
import { ControlButton } from '../shell/control-button';
import { useGuest, useGuestState } from './guest-context';

/** The others hear themselves by way of this guest: the host asks for headphones, or has the browser cancel it. */
export function HeadphonesCard() {
  const guest = useGuest();
  const wish = useGuestState((state) => state.wish);
  const cancelled = useGuestState((state) => state.echoCancellation);
  if (!wish) return null;
  return (
    <Box role="group" aria-label={`${wish.host} asks for headphones`} px="16px" py="16px" bg="raised" borderWidth="2px" borderColor="tide" borderRadius="lane">
      <Text fontSize="20px" fontWeight="700" lineHeight="1.25">
        {wish.cancel ? 'Your browser cancels the echo now' : `${wish.host} asks: would you put on headphones?`}
      </Text>
      <Text fontSize="16px" mt="6px" mb="12px">
        {wish.cancel
          ? `Your microphone hears your loudspeakers, so ${wish.host} had your browser take that out. With headphones on you would sound better.`
          : 'Your microphone hears what you hear, so the others hear themselves late. Any headphones help.'}
      </Text>
      <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="10px">
        <ControlButton h="52px" fontSize="16px" tone="tide" onClick={() => guest.answerWish(wish.cancel ? 'seen' : 'headphones')}>
          {wish.cancel ? 'All right' : 'I have them on'}
        </ControlButton>
        <ControlButton h="52px" fontSize="16px" onClick={() => guest.answerWish(wish.cancel ? 'headphones' : 'cancel')}>
          {wish.cancel ? 'I have headphones on' : cancelled ? 'I have none' : 'I have none: cancel it'}
        </ControlButton>
      </Grid>
    </Box>
  );
}
