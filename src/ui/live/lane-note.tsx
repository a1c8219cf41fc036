'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import type { Source } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { HostVoice } from '@/live/desk/desk-state';
import type { InputView } from '@/live/devices/plugged-state';
import { useDeskState } from '../shell/desk-context';
import { LaneLine } from './lane-line';

/** How a source comes in, in a few words. */
export function LaneNote({ source, lines = 2 }: { source: Source; lines?: number }) {
  const call = useDeskState((state) => state.call);
  const voice = useDeskState((state) => state.voice);
  const running = call === 'running';
  const shared = useDeskState(({ share }) => share?.label ?? 'nothing shared');
  // In words: what is measured of an input changes all the time.
  const input = useDeskState(({ plugged }) => inputInWords(plugged.inputs[source.id]));
  const seat = useDeskState(({ seats }) => (source.kind === 'voice' ? seats.find(({ id }) => id === source.seat.id) : undefined));
  if (seat && (seat.line === 'link' || seat.line === 'pair') && seat.role !== 'host') return <LaneLine seat={seat} lines={lines} />;
  return (
    <Flex align="baseline" gap="6px" color="soft" fontSize="13px" lineHeight="1.3">
      <Box boxSize="8px" flex="none" borderRadius="full" bg={running ? 'tide' : 'faint'} aria-hidden />
      <Text lineClamp={lines}>{seat ? lineInWords(seat, voice, running) : source.kind === 'share' ? shared : source.kind === 'input' ? input : running ? 'pads' : 'pads, waiting'}</Text>
    </Flex>
  );
}

function inputInWords(view: InputView | undefined): string {
  if (!view || view.state === 'none') return 'no device';
  return view.state === 'away' ? `“${view.label}” is away` : view.state === 'refused' ? view.reason : view.label;
}

function lineInWords(seat: DeskSeat, voice: HostVoice, running: boolean): string {
  if (!running) return `${seat.role === 'host' ? 'host' : seat.line}, not in the call`;
  if (seat.role === 'host') {
    if (voice.from === 'microphone') return `host · ${voice.label}`;
    if (voice.from === 'lost') return `host · ${voice.label} is gone`;
    return voice.from === 'practice' ? 'host · simulated voice' : 'host · no microphone';
  }
  const room = seat.practice?.loudspeakers ? 'loudspeakers' : 'headset';
  return `${seat.line} · ${room}${seat.practice?.network === 'weak' ? ' · weak network' : ''}`;
}
