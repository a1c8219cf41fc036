'use client';

import { Box, Flex, Heading, Text } from '@chakra-ui/react';
import { Mic, MicOff } from 'lucide-react';
import type { ReactNode } from 'react';
import { listInWords } from '@/core/hearing/names';
import type { GuestScene } from '@/core/lines/messages';
import type { GuestState } from '@/live/guest/guest-state';
import { useHoldOrLatch } from '../use-hold-or-latch';
import { ControlButton } from '../shell/control-button';
import { LevelSlider } from '../shell/level-slider';
import { AskCard } from './ask-card';
import { CheckNote } from './check-note';
import { Check, MicrophoneCheck, TestCall } from './checks-step';
import { WholeLineTest } from './whole-line-test';
import { useGuest, useGuestState } from './guest-context';
import { HeadphonesCard } from './headphones-card';
import { GuestMeter } from './guest-meter';
import { SoundStopped } from './sound-stopped';

/** The waiting room, and the call. */
export function CallRoom() {
  const guest = useGuest();
  const scene = useGuestState((state) => state.scene);
  const line = useGuestState((state) => state.line);
  const microphone = useGuestState((state) => state.microphone);
  const blocked = useGuestState((state) => state.blocked);
  const soundStopped = useGuestState((state) => state.soundStopped);
  const onAir = scene?.admitted === true && line === 'connected';
  return (
    <Flex direction="column" gap="14px">
      <Lamp scene={scene} line={line} />
      <CheckNote />
      <AskCard />
      <HeadphonesCard />
      {soundStopped && !blocked && <SoundStopped />}
      {blocked && (
        <ControlButton tone="lamp" h="50px" fontSize="17px" onClick={() => guest.letSoundOut()}>
          Let the sound out
        </ControlButton>
      )}
      {scene?.talkingToYou && (
        <Text role="alert" px="16px" py="14px" bg="tide" color="onLight" borderRadius="lane" fontSize="18px" fontWeight="700">
          {scene.talkingToYou} is talking to you. Only you can hear it.
        </Text>
      )}
      {onAir && guest.data.role === 'producer' && <ProducerTalk scene={scene} />}
      {onAir && guest.data.role !== 'producer' && (
        <Text fontSize="16px" color="soft">
          In the call: {listInWords(scene.people)}
        </Text>
      )}
      <Box bg="surface" borderWidth="1px" borderColor="hairline" borderRadius="lane" px="16px" py="14px">
        {microphone.kind !== 'open' ? <MicrophoneCheck /> : !soundStopped && <GuestMeter />}
        <MuteButton />
        <Volume />
      </Box>
      {!onAir && line !== 'lost' && (
        <Check icon={<Mic size={20} />} title="While you wait">
          {line === 'connected' && scene ? <WholeLineTest /> : <TestCall />}
        </Check>
      )}
      <ConnectionWords />
      <ControlButton h="44px" onClick={() => guest.leave()}>
        Leave
      </ControlButton>
    </Flex>
  );
}

/** The one place that says whether they are heard, and whether it is recorded. */
function Lamp({ scene, line }: { scene: GuestScene | null; line: GuestState['line'] }) {
  const guest = useGuest();
  const { host, role } = guest.data;
  if (line === 'lost') {
    return (
      <Sign ground="emberGround" edge="ember" title="The connection is lost">
        Stay here. It comes back by itself, and you are where you were.
      </Sign>
    );
  }
  if (!scene || line !== 'connected') {
    return (
      <Sign ground="surface" edge="hairline" title="You are in the waiting room">
        {line === 'none' ? `${host} is not at the desk yet, or has not begun the call.` : `${host}’s desk was found; the connection to it is being made.`} Nobody hears you.
      </Sign>
    );
  }
  if (!scene.admitted) {
    return (
      <Sign ground="surface" edge="tide" title="You are in the waiting room">
        {host} sees that you are here and will bring you in. You hear nothing of the show until then.
      </Sign>
    );
  }
  if (scene.recording) {
    return (
      <Sign ground="ember" edge="ember" title="Recording" onLight>
        {role === 'producer' ? 'The show is being recorded. Your microphone is on no track.' : 'You are on air, on a track of your own.'}
      </Sign>
    );
  }
  if (scene.recordingOthers) {
    return (
      <Sign ground="lampGround" edge="ember" title="You are in the call">
        Everybody in it hears you. The show is being recorded, and your voice is on no track of it.
      </Sign>
    );
  }
  return (
    <Sign ground="lampGround" edge="lamp" title={role === 'producer' ? 'You hear the program' : 'You are in the call'}>
      {role === 'producer' ? 'Nobody hears you unless you talk to them. Nothing is being recorded.' : 'Everybody in it hears you. Nothing is recorded yet.'}
    </Sign>
  );
}

function Sign({ ground, edge, title, onLight = false, children }: { ground: string; edge: string; title: string; onLight?: boolean; children: ReactNode }) {
  return (
    <Box role="status" aria-label="Where you are" bg={ground} borderWidth="2px" borderColor={edge} borderRadius="lane" px="18px" py="16px" color={onLight ? 'onLight' : 'text'}>
      <Heading as="h2" fontFamily="heading" fontSize="23px" fontWeight="750" lineHeight="1.2">
        {title}
      </Heading>
      <Text fontSize="16px" mt="4px">
        {children}
      </Text>
    </Box>
  );
}

function MuteButton() {
  const guest = useGuest();
  const muted = useGuestState((state) => state.muted);
  return (
    <ControlButton mt="12px" h="52px" w="100%" fontSize="17px" tone={muted ? 'ember' : 'plain'} aria-pressed={muted} onClick={() => guest.setMuted(!muted)}>
      {muted ? <MicOff size={20} /> : <Mic size={20} />}
      {muted ? 'You are muted. Let yourself be heard' : 'Mute yourself'}
    </ControlButton>
  );
}

function Volume() {
  const guest = useGuest();
  const volume = useGuestState((state) => state.volume);
  const percent = Math.round(volume * 100);
  return (
    <Box mt="16px">
      <Flex justify="space-between" fontSize="15px" color="soft" mb="6px">
        <span>How loud you hear the others</span>
        <Text as="span" color="text">
          {percent} %
        </Text>
      </Flex>
      <LevelSlider label="How loud you hear the others" value={percent} min={0} max={100} step={5} unit=" %" onChange={(value) => guest.setVolume(value / 100)} />
    </Box>
  );
}

/** The connection as measured, in words first. */
function ConnectionWords() {
  const line = useGuestState((state) => state.line);
  const report = useGuestState((state) => state.report);
  const roundTripMs = useGuestState((state) => state.roundTripMs);
  if (line === 'none') return null;
  const quality = !report ? 'Connecting' : report.lossShare > 0.05 || report.concealedMs > 100 ? 'Weak connection' : report.lossShare > 0.01 || report.concealedMs > 20 ? 'Fair connection' : 'Good connection';
  const numbers = report && [
    report.delayMs === null ? null : `you hear them after ${Math.round(report.delayMs)} ms`,
    roundTripMs === null ? null : `round trip ${Math.round(roundTripMs)} ms`,
    `${(report.lossShare * 100).toFixed(1)} % lost`,
  ];
  return (
    <Text role="status" aria-label="Connection" fontSize="14px" color="soft">
      {line === 'lost' ? 'Trying to come back …' : quality}
      {numbers && line !== 'lost' && `: ${numbers.filter(Boolean).join(', ')}`}
    </Text>
  );
}

/** A producer talks privately: hold, or tap to latch. */
function ProducerTalk({ scene }: { scene: GuestScene }) {
  const talkingTo = useGuestState((state) => state.talkingTo);
  const names = scene.talkTargets.filter(({ seat }) => talkingTo.includes(seat)).map(({ name }) => name);
  return (
    <Check icon={<Mic size={20} />} title="Talk">
      <Text role="status" fontSize="15px" color={names.length > 0 ? 'tide' : 'soft'} mb="10px">
        {names.length > 0 ? `Only ${listInWords(names)} ${names.length === 1 ? 'hears' : 'hear'} you.` : 'Nobody hears you. Hold a name, or tap to keep talking.'}
      </Text>
      <Flex gap="8px" wrap="wrap">
        {scene.talkTargets.map(({ seat, name }) => (
          <TalkTo key={seat} words={name} seats={[seat]} />
        ))}
        <TalkTo words="Everybody" seats={scene.talkTargets.map(({ seat }) => seat)} />
      </Flex>
    </Check>
  );
}

function TalkTo({ words, seats }: { words: string; seats: string[] }) {
  const guest = useGuest();
  const talkingTo = useGuestState((state) => state.talkingTo);
  const on = seats.length === talkingTo.length && seats.every((seat) => talkingTo.includes(seat));
  const hold = useHoldOrLatch(
    () => on,
    (next) => guest.talkTo(next ? seats : []),
  );
  return (
    <ControlButton {...hold} h="46px" fontSize="16px" tone={on ? 'tide' : 'plain'} aria-pressed={on} aria-label={`Talk to ${words}`}>
      {words}
    </ControlButton>
  );
}
