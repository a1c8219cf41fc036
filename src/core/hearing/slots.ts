import { CUE, type ListenerId, type SourceId } from './ids';
import { listenersOf, sourcesOf, type HearingPlan } from './plan';

/** Engine places of sources and listeners. An id the plan no longer has holds its place, unheard. */
export interface Slots {
  sources: SourceId[];
  listeners: ListenerId[];
}

/** Places in the order of the plan. */
export function slotsInOrder(plan: HearingPlan): Slots {
  return {
    sources: [...sourcesOf(plan).map(({ id }) => id), CUE],
    listeners: listenersOf(plan).map(({ id }) => id),
  };
}

/**
 * Places for a changed plan: whoever had one keeps it, so that a gain never ramps from one source
 * to another. Newcomers are added; only a full engine gives them the places of those who left.
 * @throws {RangeError} when the plan itself has more than `most` sources or listeners
 */
export function keepSlots(before: Slots, plan: HearingPlan, most: number): Slots {
  const now = slotsInOrder(plan);
  return {
    sources: keep(before.sources, now.sources, most),
    listeners: keep(before.listeners, now.listeners, most),
  };
}

function keep<Id>(before: readonly Id[], now: readonly Id[], most: number): Id[] {
  const places = [...before];
  for (const id of now) {
    if (places.includes(id)) continue;
    if (places.length < most) {
      places.push(id);
      continue;
    }
    const left = places.findIndex((held) => !now.includes(held));
    if (left < 0) throw new RangeError(`This desk holds ${most} sources and as many listeners, not more.`);
    places[left] = id;
  }
  return places;
}
