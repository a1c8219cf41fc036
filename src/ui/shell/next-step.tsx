'use client';

import { chakra, Text } from '@chakra-ui/react';
import { ArrowRight } from 'lucide-react';
import NextLink from 'next/link';
import { nextStep, type WorkFacts } from '@/core/session/readiness';
import { useDesk } from './desk-context';
import { useRoomHere } from './room-links';

const Link = chakra(NextLink);

/** The next useful thing, and the way to it; nothing where the host is at it. */
export function NextStep({ facts }: { facts: WorkFacts }) {
  const desk = useDesk();
  const step = nextStep(facts, useRoomHere());
  if (!step) return null;
  return (
    <Link
      href={`/episodes/${desk.data.episode.id}/${step.room}`}
      aria-label={`Next: ${step.words}`}
      display="flex"
      alignItems="center"
      gap="6px"
      flex="none"
      w={{ base: '100px', xl: '132px' }}
      minH="34px"
      px="10px"
      borderWidth="1px"
      borderColor="lamp"
      borderRadius="control"
      color="lampCore"
      fontSize="13px"
      fontWeight="600"
      lineHeight="1.15"
      _hover={{ bg: 'lampGround' }}
    >
      <Text as="span" flex="1" lineClamp={2}>
        {step.words}
      </Text>
      <ArrowRight size={15} aria-hidden style={{ flex: 'none' }} />
    </Link>
  );
}
