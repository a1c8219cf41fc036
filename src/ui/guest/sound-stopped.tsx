'use client';

import { Box, Text } from '@chakra-ui/react';
import { ControlButton } from '../shell/control-button';
import { useGuest } from './guest-context';

/** The browser keeps this page's sound still: what that means, and the press that ends it. */
export function SoundStopped() {
  const guest = useGuest();
  return (
    <Box role="alert" bg="emberGround" borderRadius="lane" px="16px" py="14px">
      <Text fontSize="16px">
        Your browser has stopped the sound of this page: your level cannot be shown, and nothing is recorded at your end. Others may hear you all the same.
      </Text>
      <ControlButton mt="10px" tone="lamp" h="50px" w="100%" fontSize="17px" onClick={() => guest.letSoundOut()}>
        Let the sound go on
      </ControlButton>
      <Text fontSize="14px" color="soft" mt="8px">
        If this does not help, connect headphones or a loudspeaker and press again.
      </Text>
    </Box>
  );
}
