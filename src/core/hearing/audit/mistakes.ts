import type { Coupling } from '../coupling';
import { nameInId, returnOf, voiceOf, type ListenerId, type SourceId } from '../ids';
import { placeName } from '../names';
import { listenersOf, type HearingPlan } from '../plan';
import type { Fix, Mistake } from './finding';
import { seatsOfTwoLines } from './graph';

/** Which of the classic mistakes a coupling is. */
export function mistakeOf(plan: HearingPlan, coupling: Coupling): Mistake {
  switch (coupling.kind) {
    case 'loudspeakers':
      return isHost(plan, nameInId(coupling.to)) ? 'host-on-loudspeakers' : 'caller-on-loudspeakers';
    case 'same-room':
      return seatsOfTwoLines(coupling) ? 'two-lines' : 'same-room';
    case 'share-contains':
      return 'share-contains-call';
    case 'far-system':
      return 'far-system';
    case 'other-return':
      return 'other-mix-as-return';
    case 'output-into-input':
      return 'output-into-input';
  }
}

/** What a coupling does, in words, with its numbers left to the caller. */
export function couplingInWords(plan: HearingPlan, coupling: Coupling): string {
  const from = placeName(plan, coupling.from);
  const to = placeName(plan, coupling.to);
  switch (mistakeOf(plan, coupling)) {
    case 'host-on-loudspeakers':
      return `Your loudspeakers reach your microphone`;
    case 'caller-on-loudspeakers':
      return `${to}’s loudspeakers reach ${to}’s microphone`;
    case 'two-lines': {
      const [first, second] = seatsOfTwoLines(coupling)!.map((seat) => placeName(plan, voiceOf(seat)));
      return `${first} and ${second} are one person on two lines`;
    }
    case 'same-room':
      return `${to}’s microphone picks up ${from}`;
    case 'share-contains-call':
      return `${to} contains ${from}, and so the call`;
    case 'far-system':
      return `The system at ${to}’s end sends ${from} back`;
    case 'other-mix-as-return':
      return `${to} get ${from} in place of a return of their own`;
    default:
      return `${from} is fed back into ${to}`;
  }
}

/** What ends the harm a coupling does; the first is the one to press. */
export function fixesFor(plan: HearingPlan, coupling: Coupling): Fix[] {
  const remove = { type: 'remove-coupling', id: coupling.id } as const;
  const to = placeName(plan, coupling.to);
  const seat = nameInId(coupling.to as SourceId);
  switch (mistakeOf(plan, coupling)) {
    case 'caller-on-loudspeakers':
      return [
        { label: `${to} has headphones on now`, effect: `${to}’s loudspeakers no longer count; nobody hears anything else than before.`, changes: [remove] },
        ...silenceReturn(plan, seat),
      ];
    case 'host-on-loudspeakers':
      return [{ label: 'I have headphones on now', effect: 'Your loudspeakers no longer count; what the callers hear stays as it is.', changes: [remove] }];
    case 'two-lines': {
      const seats = seatsOfTwoLines(coupling)!;
      const [first, second] = seats.map((id) => placeName(plan, voiceOf(id)));
      return [
        {
          label: `Let ${second} wait`,
          effect: `The line ${second} is neither heard nor hears; its track goes on recording. ${first} stays in the call.`,
          changes: [{ type: 'wait', seat: seats[1] }],
        },
      ];
    }
    case 'share-contains-call':
      return [
        {
          label: `Take ${to} out of the mixes`,
          effect: `Callers, program and phones no longer hear ${to}. Voices and sounds stay.`,
          changes: [{ type: 'close-source-everywhere', source: coupling.to as SourceId }],
        },
      ];
    case 'other-mix-as-return':
      return [
        {
          label: `Give ${placeName(plan, `voice:${seat}`)} the own return`,
          effect: `${placeName(plan, `voice:${seat}`)} hears everybody but ${plan.seats.find(({ id }) => id === seat)?.reflexive ?? 'themselves'}. Nobody else hears a difference.`,
          changes: [remove],
        },
      ];
    case 'far-system':
      return [
        ...silenceReturn(plan, seat),
        { label: 'The far end sends a mix-minus now', effect: `${to}’s system no longer counts as sending anything back.`, changes: [remove] },
      ];
    case 'same-room':
      return [
        {
          label: `Take ${to} out of the mixes`,
          effect: `Nobody hears ${to} for now; the track goes on.`,
          changes: [{ type: 'close-source-everywhere', source: coupling.to as SourceId }],
        },
        { label: 'They sit apart now', effect: 'The two microphones no longer count as one room.', changes: [remove] },
      ];
    default:
      return [
        {
          label: `Take ${to} out of the mixes`,
          effect: `Nobody hears ${to} until you light it again; the track goes on.`,
          changes: [{ type: 'close-source-everywhere', source: coupling.to as SourceId }],
        },
        { label: 'The cable is out', effect: 'The way back no longer counts.', changes: [remove] },
      ];
  }
}

/** Sends nothing to a caller: then nothing of it can come back. */
function silenceReturn(plan: HearingPlan, seat: string): Fix[] {
  const listener: ListenerId = returnOf(seat);
  const found = listenersOf(plan).find(({ id }) => id === listener);
  if (!found) return [];
  return [
    {
      label: `Silence ${found.name}’s return`,
      effect: `${found.name} hears nobody for now, but is heard; everybody else hears no echo.`,
      changes: [{ type: 'close-listener', listener }],
    },
  ];
}

function isHost(plan: HearingPlan, seat: string): boolean {
  return plan.seats.some(({ id, role }) => id === seat && role === 'host');
}
