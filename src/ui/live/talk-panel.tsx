'use client';

import { Flex, Text } from '@chakra-ui/react';
import { nameInId, type ListenerId } from '@/core/hearing/ids';
import { listInWords } from '@/core/hearing/names';
import { listenersOfGroup } from '@/core/hearing/plan';
import { useHoldOrLatch } from '../use-hold-or-latch';
import { ControlButton } from '../shell/control-button';
import { useDesk, useDeskState } from '../shell/desk-context';
import { KeyCap } from '../shell/key-cap';

/** Talking to all callers or to a group at once, and who is being talked to. */
export function TalkPanel() {
  const plan = useDeskState((state) => state.plan);
  const talk = useDeskState(({ onAir }) => onAir.talk);
  const key = useDeskState(({ keys }) => keys['talk-all']);
  const running = useDeskState(({ call }) => call === 'running');
  const everybody = listenersOfGroup(plan, plan.seats.map(({ id }) => id));
  const names = (talk?.to ?? []).map((id) => plan.seats.find((seat) => seat.id === nameInId(id))?.name ?? '');
  return (
    <Flex as="section" aria-label="Talkback" align="center" gap="8px" px="4px" wrap="wrap">
      <TalkButton words="Talk to all" targets={everybody} shortcut={key} />
      {plan.groups.map((group) => (
        <TalkButton key={group.id} words={`Talk to ${group.name}`} targets={listenersOfGroup(plan, group.seats)} />
      ))}
      <Text role="status" fontSize="13px" color={talk ? 'tide' : 'soft'}>
        {talk ? `Only ${listInWords(names)} ${names.length === 1 ? 'hears' : 'hear'} you.` : running ? 'You are in the call.' : 'No call is running.'}
      </Text>
    </Flex>
  );
}

function TalkButton({ words, targets, shortcut }: { words: string; targets: ListenerId[]; shortcut?: string }) {
  const desk = useDesk();
  const talk = useDeskState(({ onAir }) => onAir.talk);
  const running = useDeskState(({ call }) => call === 'running');
  const on = talk !== null && talk.to.length === targets.length && targets.every((id) => talk.to.includes(id));
  const hold = useHoldOrLatch(
    () => on,
    (next) => desk.hands.talkTo(next ? targets : []),
  );
  return (
    <ControlButton {...hold} h="34px" disabled={!running} tone={on ? 'tide' : 'plain'} aria-pressed={on} title="Hold, or tap to latch. Not in the program and on no voice track.">
      {words} {shortcut && <KeyCap>{shortcut.toUpperCase()}</KeyCap>}
    </ControlButton>
  );
}
