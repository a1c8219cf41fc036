'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { ControlButton } from './control-button';
import { formatClock, formatDuration } from '../format';
import { useDesk, useDeskState } from './desk-context';

const RATE = 48000;

/** The one place that says recording or not, for how long, and how much is safe. */
export function RecordingBlock() {
  const desk = useDesk();
  const recording = useDeskState((state) => state.recording);
  const call = useDeskState((state) => state.call);
  const isOn = recording !== null;
  return (
    <Flex
      role="group"
      aria-label="Recording"
      align="center"
      gap="12px"
      px="14px"
      h="54px"
      minW="312px"
      borderWidth="1px"
      borderRadius="lane"
      borderColor={isOn ? 'ember' : 'hairline'}
      bg={isOn ? 'emberGround' : 'surface'}
    >
      <Box boxSize="14px" borderRadius="full" bg={isOn ? 'ember' : 'transparent'} borderWidth="2px" borderColor={isOn ? 'ember' : 'faint'} aria-hidden />
      <Box flex="1" role="status" aria-live="off">
        <Text fontFamily="heading" fontSize="19px" fontWeight="700" lineHeight="1.15">
          {recording ? formatClock(recording.capturedFrames / RATE) : 'Not recording'}
        </Text>
        <Text fontSize="12.5px" color={isOn ? 'text' : 'soft'} lineHeight="1.3">
          {recording ? <Safety /> : <Idle />}
        </Text>
      </Box>
      {recording === null ? (
        <ControlButton tone="ember" disabled={call !== 'running'} onClick={() => void desk.startRecording()}>
          Record
        </ControlButton>
      ) : (
        // Not disabled while starting or saving: a disabled button would drop the keyboard's focus.
        <ControlButton
          tone="ember"
          aria-disabled={recording.phase !== 'recording'}
          onClick={() => recording.phase === 'recording' && void desk.stopRecording()}
        >
          {recording.phase === 'finishing' ? 'Saving …' : 'Stop'}
        </ControlButton>
      )}
    </Flex>
  );
}

function Safety() {
  const recording = useDeskState((state) => state.recording);
  if (!recording) return null;
  const tracks = `${recording.trackNames.length} tracks`;
  if (recording.waiting) {
    const kept = recording.keptFrames === null ? 'held in memory only' : `${formatDuration(recording.keptFrames / RATE)} kept on this computer`;
    return `${tracks} · ${kept} · waiting to send: ${recording.waiting}`;
  }
  const safe = Math.min(...recording.safeFrames) / RATE;
  return `${tracks} · ${formatDuration(safe)} of each safe on the server`;
}

function Idle() {
  const last = useDeskState((state) => state.lastTake);
  const call = useDeskState((state) => state.call);
  if (last) return `Take ${last.number} is safe: ${formatDuration(last.lengthSamples / RATE)}`;
  return call === 'running' ? 'Every voice on its own track' : 'Start the call first';
}
