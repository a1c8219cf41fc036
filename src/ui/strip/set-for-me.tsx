'use client';

import { Box, Text } from '@chakra-ui/react';
import type { Source } from '@/core/hearing/plan';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';

/** Listens to ten seconds of somebody talking, and sets their strip by what was measured. */
export function SetForMe({ source }: { source: Source }) {
  const desk = useDesk();
  const running = useDeskState(({ call }) => call === 'running');
  const listening = useDeskState((state) => (state.stripListening?.source === source.id ? state.stripListening : null));
  const busy = listening?.phase === 'listening';
  return (
    <Box>
      <ControlButton w="100%" tone={busy ? 'tide' : 'lit'} disabled={!running} aria-pressed={busy} onClick={() => (busy ? desk.strips.setter.stop() : desk.strips.setter.start(source.id))}>
        {busy ? 'Listening … press to stop' : 'Set it for me'}
      </ControlButton>
      <Text role="status" fontSize="13px" color="soft" mt="4px" minH="36px" lineHeight="1.35">
        {words(source.name, running, listening)}
      </Text>
    </Box>
  );
}

function words(name: string, running: boolean, listening: { phase: string; spokenSeconds: number } | null): string {
  if (!running) return 'Start the call first: it listens to ten seconds of talk.';
  if (listening?.phase === 'listening') return `${Math.round(listening.spokenSeconds)} seconds of talk so far. ${name} should speak as on air.`;
  if (listening?.phase === 'set') return 'Set by what was heard; each line says why. Everything can be changed, and undone.';
  if (listening?.phase === 'too-little') return `${name} said hardly anything. Nothing was changed.`;
  return `Listens to ten seconds of ${name} talking and sets low cut, gate, tone and even out.`;
}
