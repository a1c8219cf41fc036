'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { listInWords } from '@/core/hearing/names';
import { crosspointOf, operandFor } from '@/core/hearing/operands';
import { listenersOf, sourceSettings, type HearingPlan, type Listener, type Source } from '@/core/hearing/plan';
import { useFrame } from '../frame';
import { formatDb } from '../format';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Who hears this source: the hearing grid's row in miniature. */
export function LaneLamps({ source, slot }: { source: Source; slot: number }) {
  const plan = useDeskState((state) => state.plan);
  const listeners = listenersOf(plan);
  return (
    <Box role="img" aria-label={heardBySentence(plan, source, listeners)} title={heardBySentence(plan, source, listeners)}>
      <Text fontSize="12px" color="faint" mb="3px" lineHeight="1.2">
        heard by
      </Text>
      <Flex gap="4px">
        {listeners.map((listener) => (
          <Box key={listener.id} w="28px" textAlign="center">
            <Flex h="20px" align="center" justify="center">
              <Lamp plan={plan} source={source} listener={listener} slot={slot} />
            </Flex>
            <Text fontSize="11px" color="soft" lineHeight="1.2">
              {listener.name.slice(0, listener.kind === 'program' ? 4 : 3)}
            </Text>
          </Box>
        ))}
      </Flex>
    </Box>
  );
}

function Lamp({ plan, source, listener, slot }: { plan: HearingPlan; source: Source; listener: Listener; slot: number }) {
  const desk = useDesk();
  const glow = useRef<HTMLDivElement>(null);
  const gainDb = gainHeard(plan, source, listener);
  useFrame(() => {
    if (!glow.current) return;
    const level = desk.board()?.sourceRms[slot] ?? 0;
    // The halo follows the sound that really passes: full at −12 dBFS, none below −48.
    const share = level === 0 ? 0 : Math.min(1, Math.max(0, (20 * Math.log10(level) + 48) / 36));
    const opacity = share.toFixed(1);
    if (glow.current.style.opacity !== opacity) glow.current.style.opacity = opacity;
  });
  if (gainDb === 'none') return <Box w="16px" h="3px" borderRadius="full" bg="hairline" />;
  if (gainDb === 'closed') return <Box boxSize="12px" borderRadius="full" borderWidth="1.5px" borderColor="faint" />;
  const brightness = Math.min(1, Math.max(0.45, 1 + gainDb / 30));
  return (
    <Box position="relative" boxSize="14px">
      <Box ref={glow} position="absolute" inset="-7px" borderRadius="full" opacity={0} css={{ background: 'radial-gradient(circle, var(--glow) 35%, transparent 72%)', '--glow': 'colors.lamp' }} />
      <Box position="absolute" inset="0" borderRadius="full" bg="lamp" opacity={brightness} />
    </Box>
  );
}

/** Level of an open crosspoint with its source's gain; closed; or none where there is no place. */
function gainHeard(plan: HearingPlan, source: Source, listener: Listener): number | 'closed' | 'none' {
  const operand = operandFor(source, listener);
  if (!operand) return 'none';
  const { on, trimDb } = sourceSettings(plan, source.id);
  const { open, gainDb } = crosspointOf(plan, operand);
  return on && open ? gainDb + trimDb : 'closed';
}

function heardBySentence(plan: HearingPlan, source: Source, listeners: Listener[]): string {
  const heard = listeners.flatMap((listener) => {
    const gain = gainHeard(plan, source, listener);
    if (typeof gain !== 'number') return [];
    const who = listener.kind === 'program' ? 'the program' : listener.name;
    return [gain === 0 ? who : `${who} at ${formatDb(gain)}`];
  });
  if (heard.length === 0) return `Nobody hears ${source.name}.`;
  return `${source.name} is heard by ${listInWords(heard)}.`;
}
