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

/** More is asked for than there are places; the sentence is for the host. */
export class NoPlaceError extends RangeError {
  readonly code = 'no-place';
}

/**
 * Places for a changed plan: whoever had one keeps it, so that a gain never ramps from one source
 * to another. Newcomers are added; only a full engine gives them the places of those who left, and never
 * one that is pinned: a track still records from it.
 * @throws {NoPlaceError} when there is no place left for somebody
 */
export function keepSlots(before: Slots, plan: HearingPlan, most: { sources: number; listeners: number }, pinned: ReadonlySet<string> = NOTHING_PINNED): Slots {
  const now = slotsInOrder(plan);
  return {
    sources: keep(before.sources, now.sources, most.sources, pinned),
    listeners: keep(before.listeners, now.listeners, most.listeners, pinned),
  };
}

const NOTHING_PINNED: ReadonlySet<string> = new Set();

function keep<Id extends string>(before: readonly Id[], now: readonly Id[], most: number, pinned: ReadonlySet<string>): Id[] {
  const places = [...before];
  for (const id of now) {
    if (places.includes(id)) continue;
    if (places.length < most) {
      places.push(id);
      continue;
    }
    const left = places.findIndex((held) => !now.includes(held) && !pinned.has(held));
    if (left < 0) {
      const kept = places.filter((held) => !now.includes(held)).length;
      const why = kept > 0 ? `; ${kept} of them belong to people who have left and whose tracks are still recorded. They are free again when the recording stops` : '';
      throw new NoPlaceError(`There is no place left on this desk: it has ${most}${why}.`);
    }
    places[left] = id;
  }
  return places;
}
