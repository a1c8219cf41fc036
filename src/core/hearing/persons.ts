import { isOwnVoice, isPrivateFrom, personOf } from './operands';
import type { SeatId } from './ids';
import { listenersOf, sourcesOf, type HearingPlan, type Seat } from './plan';

/**
 * The plan in which two seats are one person on two lines (null: this seat is somebody of their own again). What was set by
 * hand at places that exist no longer goes: nobody hears their own other line.
 * @throws {RangeError} for a seat the plan does not have
 */
export function withSamePerson(plan: HearingPlan, seat: SeatId, other: SeatId | null): HearingPlan {
  const find = (id: SeatId): Seat => {
    const found = plan.seats.find((one) => one.id === id);
    if (!found) throw new RangeError(`The plan has no seat ${id}.`);
    return found;
  };
  const person = other === null ? undefined : personOf(find(other));
  find(seat);
  const changed = plan.seats.map(({ person: before, ...one }) => ({ ...one, ...(one.id === seat ? person !== undefined && { person } : before !== undefined && { person: before }) }));
  // Whoever is alone under another's name needs no name for it.
  const count = (name: string) => changed.filter((one) => personOf(one) === name).length;
  const seats = changed.map(({ person: name, ...one }) => (name === undefined || count(name) < 2 ? one : { ...one, person: name }));
  return withoutImpossible({ ...plan, seats });
}

/** The other seats of the person who sits in a seat. */
export const otherLinesOf = (plan: HearingPlan, seat: SeatId): Seat[] => {
  const own = plan.seats.find(({ id }) => id === seat);
  return own ? plan.seats.filter((one) => one.id !== seat && personOf(one) === personOf(own)) : [];
};

/** The plan without exceptions at places that cannot exist. */
function withoutImpossible(plan: HearingPlan): HearingPlan {
  const sources = new Map<string, ReturnType<typeof sourcesOf>[number]>(sourcesOf(plan).map((source) => [source.id, source]));
  const exceptions: HearingPlan['exceptions'] = {};
  for (const listener of listenersOf(plan)) {
    const kept = Object.entries(plan.exceptions[listener.id] ?? {}).filter(([id]) => {
      const source = sources.get(id);
      return source !== undefined && !isOwnVoice(source, listener) && !isPrivateFrom(source, listener);
    });
    if (kept.length > 0) exceptions[listener.id] = Object.fromEntries(kept);
  }
  return { ...plan, exceptions };
}
