'use client';

import { Text } from '@chakra-ui/react';
import { ArrowRight } from 'lucide-react';
import { nextStep, type WorkFacts } from '@/core/session/readiness';
import { useDesk } from './desk-context';
import { HeaderLink } from './header-link';
import { useRoomHere } from './room-links';

/** The next useful thing, and the way to it; nothing where the host is at it. */
export function NextStep({ facts }: { facts: WorkFacts }) {
  const desk = useDesk();
  const step = nextStep(facts, useRoomHere());
  if (!step) return null;
  return (
    <HeaderLink href={`/episodes/${desk.data.episode.id}/${step.room}`} aria-label={`Next: ${step.words}`} w={{ base: '100px', xl: '132px' }}>
      <Text as="span" flex="1" lineClamp={2}>
        {step.words}
      </Text>
      <ArrowRight size={15} aria-hidden style={{ flex: 'none' }} />
    </HeaderLink>
  );
}
