'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useRef } from 'react';
import { heardAt } from '@/core/hearing/compile';
import { shortNames } from '@/core/hearing/short-names';
import type { OnAir } from '@/core/hearing/on-air';
import { operandFor } from '@/core/hearing/operands';
import { heardBySentence } from '@/core/hearing/sentences';
import { listenersOf, type HearingPlan, type Listener, type Source } from '@/core/hearing/plan';
import { useFrame } from '../frame';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Who hears this source: the hearing grid's row in miniature. */
export function LaneLamps({ source, slot }: { source: Source; slot: number }) {
  const plan = useDeskState((state) => state.plan);
  const onAir = useDeskState((state) => state.onAir);
  const listeners = listenersOf(plan);
  const sentence = heardBySentence(plan, source, onAir);
  const short = shortNames(listeners.map(({ name }) => name), 4);
  return (
    <Box role="img" aria-label={sentence} title={sentence}>
      <Text fontSize="12px" color="faint" mb="3px" lineHeight="1.2">
        heard by
      </Text>
      <Flex gap="4px">
        {listeners.map((listener, k) => (
          <Box key={listener.id} w="28px" textAlign="center">
            <Flex h="20px" align="center" justify="center">
              <Lamp plan={plan} source={source} listener={listener} slot={slot} />
            </Flex>
            <Text fontSize="11px" color="soft" lineHeight="1.2">
              {short[k]}
            </Text>
          </Box>
        ))}
      </Flex>
    </Box>
  );
}

/** The same lamps without names, which stand once above all lanes. */
export function LampRow({ source, slot, pitch }: { source: Source; slot: number; pitch: number }) {
  const plan = useDeskState((state) => state.plan);
  const onAir = useDeskState((state) => state.onAir);
  const sentence = heardBySentence(plan, source, onAir);
  return (
    <Flex role="img" aria-label={sentence} title={sentence}>
      {listenersOf(plan).map((listener) => (
        <Flex key={listener.id} w={`${pitch}px`} align="center" justify="center">
          <Lamp plan={plan} source={source} listener={listener} slot={slot} size={Math.min(14, pitch - 5)} />
        </Flex>
      ))}
    </Flex>
  );
}

function Lamp({ plan, source, listener, slot, size = 14 }: { plan: HearingPlan; source: Source; listener: Listener; slot: number; size?: number }) {
  const desk = useDesk();
  const glow = useRef<HTMLDivElement>(null);
  const onAir = useDeskState((state) => state.onAir);
  const gainDb = gainHeard(plan, onAir, source, listener);
  useFrame(() => {
    if (!glow.current) return;
    const level = desk.board()?.sourceRms[slot] ?? 0;
    // The halo follows the sound that really passes: full at −12 dBFS, none below −48.
    const share = level === 0 ? 0 : Math.min(1, Math.max(0, (20 * Math.log10(level) + 48) / 36));
    const opacity = share.toFixed(1);
    if (glow.current.style.opacity !== opacity) glow.current.style.opacity = opacity;
  });
  if (gainDb === 'none') return <Box w="11px" h="3px" borderRadius="full" bg="hairline" />;
  if (gainDb === 'closed') return <Box boxSize={`${size - 2}px`} borderRadius="full" borderWidth="1.5px" borderColor="faint" />;
  const brightness = Math.min(1, Math.max(0.45, 1 + gainDb / 30));
  return (
    <Box position="relative" boxSize={`${size}px`}>
      <Box ref={glow} position="absolute" inset="-7px" borderRadius="full" opacity={0} css={{ background: 'radial-gradient(circle, var(--glow) 35%, transparent 72%)', '--glow': 'colors.lamp' }} />
      <Box position="absolute" inset="0" borderRadius="full" bg="lamp" opacity={brightness} />
    </Box>
  );
}

/** Level at which a listener hears a source now, hands included; closed; or none where there is no place. */
function gainHeard(plan: HearingPlan, onAir: OnAir, source: Source, listener: Listener): number | 'closed' | 'none' {
  if (!operandFor(source, listener)) return 'none';
  return heardAt(plan, onAir, source, listener, listenersOf(plan)) ?? 'closed';
}
