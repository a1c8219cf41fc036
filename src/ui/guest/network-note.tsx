'use client';

import { Flex, Text } from '@chakra-ui/react';
import { Check, CircleAlert } from 'lucide-react';
import { letsThrough, type NetworkFound } from '@/core/lines/network';
import { ControlButton } from '../shell/control-button';
import { useGuest, useGuestState } from './guest-context';

const ANOTHER = 'Try another network, such as your phone’s, or ask who runs this one.';

/** What was found, for a guest; null where there was nobody to ask. */
function wordsFor(found: NetworkFound): { words: string; good: boolean } | null {
  switch (letsThrough(found)) {
    case null:
      return null;
    case 'yes':
      return { words: `Your network lets the call through, by the relay${found.direct === true ? ' if it must' : ''}.`, good: true };
    case 'perhaps':
      if (found.relay === false) return { words: `Your network lets sound out, but not to the relay. Should nobody hear you: ${ANOTHER.toLowerCase()}`, good: false };
      return { words: 'Your network lets sound out and in. Whether it gets to your host shows when you come in.', good: true };
    case 'no':
      return { words: found.relay === false ? `Your network lets no call through. ${ANOTHER}` : `Your network lets no sound out directly, and your host has no relay. ${ANOTHER}`, good: false };
  }
}

/** Whether the guest's network lets the call through, found out before they wait. */
export function NetworkNote() {
  const guest = useGuest();
  const network = useGuestState((state) => state.network);
  if (network === null) return null;
  if (network === 'trying') {
    return (
      <Text role="status" fontSize="15px" color="soft">
        Looking whether your network lets the call through …
      </Text>
    );
  }
  const found = wordsFor(network);
  if (!found) return null;
  return (
    <Flex role="status" gap="10px" align="center" fontSize="15px" color={found.good ? 'soft' : 'ember'}>
      {found.good ? <Check size={18} aria-hidden /> : <CircleAlert size={18} aria-hidden />}
      <Text flex="1">{found.words}</Text>
      {!found.good && (
        <ControlButton h="38px" onClick={() => guest.tryNetwork()}>
          Look again
        </ControlButton>
      )}
    </Flex>
  );
}
