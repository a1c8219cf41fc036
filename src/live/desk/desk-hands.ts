import { returnOf, voiceOf, type ListenerId } from '@/core/hearing/ids';
import type { DeskAction } from '@/core/session/desk-actions';
import type { DeskPads } from './desk-pads';
import type { DeskPlan } from './desk-plan';
import type { DeskReader } from './desk-state';
import type { HandsOnAir } from './hands-on-air';
import type { TakeMarks } from './take-marks';
import { holdOrLatch, type KeyAction } from './hold-or-latch';

/** What keys and controllers reach of a desk. */
export interface WorkedDesk {
  readonly store: DeskReader;
  readonly hands: HandsOnAir;
  readonly pads: DeskPads;
  readonly marks: TakeMarks;
  readonly plan: DeskPlan;
}

/** What each of the desk's actions does, for keys and controllers alike. */
export function deskActions(desk: WorkedDesk): Record<DeskAction, KeyAction> {
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
      (on) => desk.hands.cough(hostVoice(desk), on ? state().habits.coughKeepsOut : null),
    ),
    'talk-all': talk(() => callers().map(({ id }) => returnOf(id))),
    'talk-1': talkToCaller(0),
    'talk-2': talkToCaller(1),
    'talk-3': talkToCaller(2),
    'talk-4': talkToCaller(3),
    'own-mix': { press: () => desk.hands.listenTo(null) },
    dim: { press: () => desk.hands.dimPhones(!state().onAir.phonesDim) },
    'stop-sounds': { press: () => desk.pads.stopAll() },
    mark: { press: () => desk.marks.mark(false) },
    'mark-back': { press: () => desk.marks.mark(true) },
    'fade-sounds': { press: () => desk.pads.fadeAll() },
    'under-talk': { press: () => desk.pads.underTalk() },
    'listen-first': { press: () => desk.pads.setListenFirst(true), release: () => desk.pads.setListenFirst(false) },
    undo: { press: () => desk.plan.undo() },
  };
}

/** The host's own voice. */
function hostVoice(desk: WorkedDesk) {
  const host = desk.store.getState().seats.find(({ role }) => role === 'host');
  return voiceOf(host?.id ?? '');
}
