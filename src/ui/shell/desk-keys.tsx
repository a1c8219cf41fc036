'use client';

import { useMemo } from 'react';
import { returnOf, voiceOf, type ListenerId } from '@/core/hearing/ids';
import { DESK_ACTION_NAMES, type DeskAction } from '@/core/session/desk-actions';
import type { DeskSession } from '@/live/desk/desk-session';
import { holdOrLatch } from '../hold-or-latch';
import { useKeys, type KeyAction } from '../use-keys';
import { useDesk, useDeskState } from './desk-context';

/** The desk's keys. Each is shown on the control it works. */
export function DeskKeys() {
  const desk = useDesk();
  const keys = useDeskState((state) => state.keys);
  const actions = useMemo(() => actionsOf(desk), [desk]);
  const board = useDeskState((state) => state.pads);
  const pads = board.map(({ key, sound }) => [key, { press: () => desk.pads.press(sound) }] as const);
  const bound = DESK_ACTION_NAMES.map((action) => [keys[action], actions[action]] as const);
  useKeys({ ...Object.fromEntries(pads), ...Object.fromEntries(bound) }, () => desk.hands.releaseHeld());
  return null;
}

function actionsOf(desk: DeskSession): Record<DeskAction, KeyAction> {
  const state = () => desk.store.getState();
  const callers = () => state().plan.seats.filter(({ role }) => role === 'caller');
  const talk = (targets: () => ListenerId[]) =>
    holdOrLatch(
      () => targets().length > 0 && targets().every((id) => state().onAir.talk?.to.includes(id)),
      (on) => targets().forEach((id) => desk.hands.talkWith(id, on)),
    );
  const talkToCaller = (place: number) =>
    talk(() => {
      const seat = callers()[place];
      return seat ? [returnOf(seat.id)] : [];
    });
  return {
    cough: holdOrLatch(
      () => state().onAir.cough[hostVoice(desk)] !== undefined,
      (on) => desk.hands.cough(hostVoice(desk), on ? state().coughKeepsOut : null),
    ),
    'talk-all': talk(() => callers().map(({ id }) => returnOf(id))),
    'talk-1': talkToCaller(0),
    'talk-2': talkToCaller(1),
    'talk-3': talkToCaller(2),
    'talk-4': talkToCaller(3),
    'own-mix': { press: () => desk.hands.listenTo(null) },
    dim: { press: () => desk.hands.dimPhones(!state().onAir.phonesDim) },
    'stop-sounds': { press: () => desk.pads.stopAll() },
    undo: { press: () => desk.undo() },
  };
}

/** The host's own voice. */
export function hostVoice(desk: DeskSession) {
  const host = desk.store.getState().seats.find(({ role }) => role === 'host');
  return voiceOf(host?.id ?? '');
}
