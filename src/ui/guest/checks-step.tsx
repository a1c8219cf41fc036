'use client';

import { Box, Flex, Heading, NativeSelect, Text } from '@chakra-ui/react';
import { Headphones, Mic, Voicemail } from 'lucide-react';
import type { ReactNode } from 'react';
import type { SweepHeard } from '@/core/measure/sweep';
import type { GuestState } from '@/live/guest/guest-state';
import { formatDb } from '../format';
import { ControlButton } from '../shell/control-button';
import { FindMicrophone } from './find-microphone';
import { useGuest, useGuestState } from './guest-context';
import { GuestMeter } from './guest-meter';
import { NetworkNote } from './network-note';
import { SoundStopped } from './sound-stopped';

/** Microphone, headphones, and what the others will hear. */
export function ChecksStep() {
  const guest = useGuest();
  const open = useGuestState((state) => state.microphone.kind === 'open');
  return (
    <Flex direction="column" gap="14px">
      <Check icon={<Mic size={20} />} title="Microphone">
        <MicrophoneCheck />
      </Check>
      <Check icon={<Headphones size={20} />} title="Headphones">
        <HeadphonesCheck />
      </Check>
      <Check icon={<Voicemail size={20} />} title="How you sound">
        <TestCall />
      </Check>
      <NetworkNote />
      <ControlButton tone="lamp" h="50px" fontSize="17px" disabled={!open} onClick={() => guest.goIn()}>
        Go to the waiting room
      </ControlButton>
    </Flex>
  );
}

export function Check({ icon, title, children }: { icon: ReactNode; title: string; children: ReactNode }) {
  return (
    <Box as="section" aria-label={title} bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" px="16px" py="14px">
      <Flex align="center" gap="10px" mb="10px">
        <Box color="lamp" aria-hidden>
          {icon}
        </Box>
        <Heading as="h2" fontFamily="heading" fontSize="18px" fontWeight="700">
          {title}
        </Heading>
      </Flex>
      {children}
    </Box>
  );
}

export function MicrophoneCheck() {
  const guest = useGuest();
  const soundStopped = useGuestState((state) => state.soundStopped);
  const microphone = useGuestState((state) => state.microphone);
  const devices = useGuestState((state) => state.devices);
  if (microphone.kind === 'trouble' || microphone.kind === 'none') {
    return (
      <Box>
        <Text role="alert" fontSize="16px" color="ember">
          {microphone.kind === 'trouble' ? microphone.words : 'No microphone is open.'}
        </Text>
        <Flex gap="8px" mt="12px" wrap="wrap">
          <ControlButton tone="lamp" h="42px" onClick={() => void guest.input.open(null)}>
            Try again
          </ControlButton>
          {devices.map(({ deviceId, label }) => (
            <ControlButton key={deviceId} h="42px" onClick={() => void guest.input.open(deviceId)}>
              {label}
            </ControlButton>
          ))}
        </Flex>
      </Box>
    );
  }
  if (microphone.kind === 'asking') return <Text fontSize="16px">Your browser asks whether this page may use your microphone. Say yes.</Text>;
  return (
    <Box>
      <NativeSelect.Root mb="12px">
        <NativeSelect.Field
          aria-label="Which microphone"
          h="44px"
          fontSize="16px"
          bg="ground"
          borderColor="hairline"
          value={microphone.deviceId}
          onChange={(event) => void guest.input.open(event.target.value)}
        >
          {!devices.some(({ deviceId }) => deviceId === microphone.deviceId) && <option value={microphone.deviceId}>{microphone.label}</option>}
          {devices.map(({ deviceId, label }) => (
            <option key={deviceId} value={deviceId}>
              {label}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {soundStopped ? <SoundStopped /> : <GuestMeter />}
      <FindMicrophone />
    </Box>
  );
}

function HeadphonesCheck() {
  const guest = useGuest();
  const headphones = useGuestState((state) => state.headphones);
  const echoCancellation = useGuestState((state) => state.echoCancellation);
  const open = useGuestState((state) => state.microphone.kind === 'open');
  const heard = headphones.state === 'tested' ? headphones.heard : null;
  return (
    <Box>
      <Text role="status" fontSize="16px" color={heard ? (heard.heard ? 'ember' : 'well') : 'soft'}>
        {wordsFor(headphones, heard)}
      </Text>
      {heard?.heard && (
        <Text mt="6px" fontSize="15px">
          Others would hear themselves late. Put headphones on and test again; without any, let your browser cancel the echo. It costs some sound quality.
        </Text>
      )}
      <Flex gap="8px" mt="12px" wrap="wrap">
        <ControlButton h="42px" tone={heard ? 'plain' : 'tide'} disabled={!open || headphones.state === 'testing'} onClick={() => void guest.input.testHeadphones()}>
          {headphones.state === 'testing' ? 'Listening …' : heard ? 'Test again' : 'Play the test sound'}
        </ControlButton>
        {(heard?.heard || echoCancellation) && (
          <ControlButton h="42px" tone={echoCancellation ? 'lit' : 'plain'} aria-pressed={echoCancellation} onClick={() => void guest.input.setEchoCancellation(!echoCancellation)}>
            {echoCancellation ? 'Echo is cancelled' : 'I have no headphones: cancel the echo'}
          </ControlButton>
        )}
      </Flex>
    </Box>
  );
}

function wordsFor(headphones: GuestState['headphones'], heard: SweepHeard | null): string {
  if (headphones.state === 'failed') return 'The test could not be made: your browser plays no sound here. Press the button again; if that does not help, connect headphones or a loudspeaker.';
  if (headphones.state === 'testing') return 'A rising tone is played, twice. Keep quiet for three seconds.';
  if (!heard) return 'A short rising tone shows whether your microphone hears what you hear.';
  if (!heard.heard) return 'Good: your microphone does not hear your headphones.';
  return `Your microphone hears your loudspeakers: ${formatDb(heard.levelDb ?? 0)} after ${Math.round(heard.delayMs ?? 0)} ms.`;
}

export function TestCall() {
  const guest = useGuest();
  const testCall = useGuestState((state) => state.testCall);
  const open = useGuestState((state) => state.microphone.kind === 'open');
  const words = {
    idle: 'Speak for five seconds; it is then played back once, as callers would hear it.',
    recording: 'Speak now …',
    playing: 'This is how callers hear you.',
    done: 'Once more, if you like.',
    failed: 'The test call did not work in this browser. The call itself may still.',
  }[testCall];
  const busy = testCall === 'recording' || testCall === 'playing';
  return (
    <Box>
      <Text role="status" fontSize="16px" color={testCall === 'recording' ? 'lamp' : 'soft'}>
        {words}
      </Text>
      <ControlButton mt="12px" h="42px" disabled={!open || busy} onClick={() => guest.input.testCall()}>
        {busy ? 'One moment …' : 'Hear yourself'}
      </ControlButton>
    </Box>
  );
}
