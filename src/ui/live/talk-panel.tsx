'use client';

import { Flex, Text } from '@chakra-ui/react';
import { nameInId, returnOf } from '@/core/hearing/ids';
import { listInWords } from '@/core/hearing/names';
import { useHoldOrLatch } from '../hold-or-latch';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { KeyCap } from '../shell/key-cap';

/** Talking to all callers at once, and who is being talked to. */
export function TalkPanel() {
  const desk = useDesk();
  const talk = useDeskState(({ onAir }) => onAir.talk);
  const seats = useDeskState(({ plan }) => plan.seats);
  const running = useDeskState(({ call }) => call === 'running');
  const key = useDeskState(({ keys }) => keys['talk-all']);
  const everybody = seats.filter(({ role }) => role === 'caller').map(({ id }) => returnOf(id));
  const toAll = talk !== null && everybody.every((id) => talk.to.includes(id));
  const hold = useHoldOrLatch(
    () => toAll,
    (on) => desk.talkTo(on ? everybody : []),
  );
  const names = (talk?.to ?? []).map((id) => seats.find((seat) => seat.id === nameInId(id))?.name ?? '');
  return (
    <Flex as="section" aria-label="Talkback" align="center" gap="10px" px="4px">
      <ControlButton {...hold} h="34px" disabled={!running} tone={toAll ? 'tide' : 'plain'} aria-pressed={toAll} title="Hold, or tap to latch. Not in the program and on no voice track.">
        Talk to all <KeyCap>{key.toUpperCase()}</KeyCap>
      </ControlButton>
      <Text role="status" fontSize="13px" color={talk ? 'tide' : 'soft'}>
        {talk ? `Only ${listInWords(names)} ${names.length === 1 ? 'hears' : 'hear'} you.` : 'You are in the call.'}
      </Text>
    </Flex>
  );
}
