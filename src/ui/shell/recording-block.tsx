'use client';

import { Box, Flex, Text } from '@chakra-ui/react';
import { useEffect } from 'react';
import { Pause, Play } from 'lucide-react';
import { useShallow } from 'zustand/react/shallow';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import type { RecordingState } from '@/live/desk/desk-state';
import { roomFor, roomInWords, shortOfRoom, type Room } from '@/live/desk/space';
import { ControlButton } from './control-button';
import { formatClock, formatDuration } from '../format';
import { useDesk, useDeskState } from './desk-context';

const RATE = 48000;

/** The one place that says recording or not, for how long, and how much is safe. */
export function RecordingBlock() {
  const desk = useDesk();
  const phase = useDeskState(({ recording }) => recording?.phase ?? null);
  const room = roomInWords(useRoom());
  const isThere = phase !== null;
  // What is only being saved is not being recorded any more.
  const isOn = isThere && phase !== 'finishing';
  useEffect(() => desk.watchSpace(), [desk]);
  return (
    <Flex
      role="group"
      aria-label="Recording"
      title={room && `Room for ${room}`}
      align="center"
      gap={{ base: '9px', '2xl': '12px' }}
      px={{ base: '10px', '2xl': '12px' }}
      h="58px"
      w={{ base: '238px', xl: isThere ? '300px' : '250px', '2xl': '300px' }}
      flex="none"
      borderWidth="1px"
      borderRadius="lane"
      borderColor={isOn ? 'ember' : 'hairline'}
      bg={isOn ? 'emberGround' : 'surface'}
    >
      <Box boxSize="14px" borderRadius="full" bg={isOn ? 'ember' : 'transparent'} borderWidth="2px" borderColor={isOn ? 'ember' : 'faint'} aria-hidden />
      <Box flex="1" minW="0" role="status" aria-live="off">
        <Text fontFamily="heading" fontSize={{ base: '17px', '2xl': '19px' }} fontWeight="700" lineHeight="1.15" whiteSpace="nowrap">
          {isOn ? <Recorded /> : 'Not recording'}
          {phase === 'paused' && ' paused'}
        </Text>
        <Text fontSize="12.5px" color={isThere ? 'text' : 'soft'} lineHeight="1.2" lineClamp={2}>
          {isThere ? <Safety /> : <Idle />}
        </Text>
      </Box>
      <RecordingButtons phase={phase} />
    </Flex>
  );
}

function RecordingButtons({ phase }: { phase: RecordingState['phase'] | null }) {
  const desk = useDesk();
  const canBegin = useDeskState(({ call }) => call === 'running');
  const isPaused = phase === 'paused';
  const canStop = phase === 'recording' || isPaused;
  if (phase === null) {
    return (
      <ControlButton tone="ember" disabled={!canBegin} onClick={() => void desk.startRecording()}>
        Record
      </ControlButton>
    );
  }
  return (
    <>
      {canStop && (
        <ControlButton px="10px" aria-label={isPaused ? 'Go on recording' : 'Pause recording'} title={isPaused ? 'Go on recording' : 'Pause recording'} onClick={() => desk.recording.pause(!isPaused)}>
          {isPaused ? <Play size={16} /> : <Pause size={16} />}
        </ControlButton>
      )}
      {/* Not disabled while starting or saving: a disabled button would drop the keyboard's focus. */}
      <ControlButton tone="ember" aria-disabled={!canStop} onClick={() => canStop && void desk.recording.stop()}>
        {phase === 'finishing' ? 'Saving …' : 'Stop'}
      </ControlButton>
    </>
  );
}

/** How much is recorded. What is shown is chosen as words: they change once a second, the counts behind them ten times. */
function Recorded() {
  return useDeskState(({ recording }) => recording && formatClock(recording.capturedFrames / RATE));
}

function Safety() {
  const room = useRoom();
  const [words, where, more] = useDeskState(useShallow(({ recording }) => (recording ? safetyInWords(recording, room) : ['', '', ''])));
  return (
    <>
      {words}
      <Box as="span" display={{ base: 'none', xl: 'inline' }}>
        {where}
      </Box>
      {more}
    </>
  );
}

/** How much is safe, where (said where there is room for it), and what else. */
function safetyInWords(recording: RecordingState, room: Room): [string, string, string] {
  const left = recording.leftOut.length > 0 ? `, ${recording.leftOut.length} left out` : '';
  const tracks = `${recording.trackNames.length} tracks${left}`;
  if (recording.waiting) {
    const kept = recording.keptFrames === null ? 'held in memory only' : `${formatDuration(recording.keptFrames / RATE)} kept on this computer`;
    return [`${kept} · waiting to send: ${recording.waiting}`, '', ''];
  }
  const short = shortOfRoom(room);
  if (short) return [`${tracks} · ${short}`, '', ''];
  const ends = recording.stopsAt === null ? '' : ` · stops at ${formatDuration(recording.stopsAt / RATE)}`;
  const safe = `${formatDuration(Math.min(...recording.safeFrames) / RATE)} safe`;
  return left || ends ? [safe, ' on the server', `${ends} · ${tracks}`] : [safe, ` on the server · ${tracks}`, ''];
}

function Idle() {
  const last = useDeskState((state) => state.lastTake);
  const call = useDeskState((state) => state.call);
  const room = useRoom();
  const short = shortOfRoom(room);
  if (short) return `Only ${short}`;
  if (last) return `Take ${last.number} is safe: ${formatDuration(last.lengthSamples / RATE)}`;
  return call === 'running' ? 'Every voice on its own track' : 'Start the call first';
}

/** Room for the sources of this plan, in the show's format. */
function useRoom(): Room {
  const space = useDeskState((state) => state.space);
  const channels = useDeskState(({ plan }) => plan.seats.length + 2 * (plan.players.length + plan.shares.length));
  const format = useDeskState((state) => state.recordingSettings.format);
  return roomFor(space, channels, BYTES_PER_SAMPLE[format]);
}
