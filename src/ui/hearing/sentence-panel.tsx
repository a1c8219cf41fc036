'use client';

import { Box, Text } from '@chakra-ui/react';
import { crosspointSentence, heardBySentence, hearsSentence } from '@/core/hearing/sentences';
import type { Listener, Source } from '@/core/hearing/plan';
import { useDeskState } from '../shell/desk-context';

/** The grid's voice: what the selected place means, for eyes and for screen readers. */
export function SentencePanel({ source, listener }: { source: Source | null; listener: Listener | null }) {
  const plan = useDeskState((state) => state.plan);
  const onAir = useDeskState((state) => state.onAir);
  const sentences: string[] = [];
  if (source && listener) sentences.push(crosspointSentence(plan, source, listener, onAir));
  if (listener) sentences.push(hearsSentence(plan, listener, onAir));
  if (source) sentences.push(heardBySentence(plan, source, onAir));
  return (
    <Box as="section" aria-label="In words" flex="none" bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" px="16px" py="12px" minH="88px">
      <Box aria-live="polite">
        {sentences.length === 0 && (
          <Text color="soft" fontSize="14.5px">
            Choose a lamp, a name on the left or a name at the top: it is said here in words.
          </Text>
        )}
        {sentences.map((sentence, place) => (
          <Text key={place} fontSize={place === 0 ? '16px' : '14px'} color={place === 0 ? 'text' : 'soft'} lineHeight="1.45" _notFirst={{ mt: '7px' }}>
            {sentence}
          </Text>
        ))}
      </Box>
    </Box>
  );
}
