'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import type { ListenTo } from '@/core/hearing/on-air';
import type { Source } from '@/core/hearing/plan';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';

/** The voice with and without its strip, as loud as each other, in the host's phones alone. */
export function HearDifference({ source, closed }: { source: Source; closed: boolean }) {
  const desk = useDesk();
  const running = useDeskState(({ call }) => call === 'running');
  const listenTo = useDeskState(({ onAir }) => onAir.listenTo);
  const heard = listenTo !== null && 'source' in listenTo && listenTo.source === source.id ? (listenTo.asItComes ? 'without' : 'with') : null;
  const { comparison } = desk.strips;
  useEffect(() => {
    if (running) comparison.begin(source.id);
    return () => comparison.end();
  }, [comparison, source.id, running]);
  const press = (which: 'with' | 'without') => (heard === which ? comparison.stop() : comparison.hear(which === 'with'));
  return (
    <Box role="group" aria-label="Hear the difference">
      <Text fontSize="13px" color="soft" mb="4px">
        Hear the difference, in your phones only
      </Text>
      <Flex gap="6px">
        <ControlButton flex="1" px="0" disabled={!running} tone={heard === 'with' ? 'tide' : 'plain'} aria-pressed={heard === 'with'} onClick={() => press('with')}>
          With
        </ControlButton>
        <ControlButton flex="1" px="0" disabled={!running || closed} tone={heard === 'without' ? 'tide' : 'plain'} aria-pressed={heard === 'without'} onClick={() => press('without')}>
          Without
        </ControlButton>
      </Flex>
      <Text fontSize="13px" color="soft" mt="4px" lineHeight="1.35">
        {words(listenTo)}
      </Text>
    </Box>
  );
}

function words(listenTo: ListenTo | null): string {
  if (listenTo === null || !('source' in listenTo) || !listenTo.asItComes) return 'Without comes as loud as with, once both were heard for three seconds.';
  const { gainDb } = listenTo.asItComes;
  return gainDb === null ? 'As it comes in; how loud it is with its strip is still being measured.' : `As it comes in, ${formatDb(gainDb)}: as loud as with its strip.`;
}
