import { heardAt } from './compile';
import { dbInWords, listenerName, placeName } from './names';
import { NOTHING_ON_AIR, type OnAir } from './on-air';
import { listenerSettings, listenersOf, sourceSettings, sourcesOf, type HearingPlan } from './plan';
import { stripInWords } from '../strip/words';
import { stripOf } from './processing';

/** How many crosspoints are named one by one. */
const MOST_NAMED = 2;

interface InForce {
  plan: HearingPlan;
  hands: Pick<OnAir, 'held'>;
}

/**
 * What is heard differently, for a list: `Bed into the program: closed` or `12 crosspoints changed`. Null where only the
 * hands moved in what they do all the time: coughs and private talk.
 */
export function differenceInWords(before: InForce, after: InForce): string | null {
  const held = heldInWords(before, after);
  const changed = before.plan === after.plan || JSON.stringify(before.plan) === JSON.stringify(after.plan) ? null : planDifference(before.plan, after.plan);
  if (changed === null) return held;
  return held === null ? changed : `${held}. ${changed}`;
}

function heldInWords(before: InForce, after: InForce): string | null {
  const name = (id: string) => placeName(after.plan, id);
  const held = after.hands.held.filter((id) => !before.hands.held.includes(id)).map((id) => `${name(id)} is kept out of every mix`);
  const free = before.hands.held.filter((id) => !after.hands.held.includes(id)).map((id) => `${name(id)} is let into the mixes`);
  return [...held, ...free].join(', ') || null;
}

/** What a change of plan did, without the hands. */
export function planDifference(before: HearingPlan, after: HearingPlan): string {
  const levels = (plan: HearingPlan) => {
    const listeners = listenersOf(plan);
    return new Map(
      listeners.flatMap((listener) =>
        sourcesOf(plan).map((source) => [`${source.name} into ${listenerName(listener)}`, heardAt(plan, NOTHING_ON_AIR, source, listener, listeners)] as const),
      ),
    );
  };
  const old = levels(before);
  const changed = [...levels(after)].filter(([place, db]) => (old.get(place) ?? null) !== db).map(([place, db]) => `${place}: ${db === null ? 'closed' : dbInWords(db)}`);
  for (const { id, name } of sourcesOf(after)) {
    const [was, is] = [before, after].map((plan) => stripOf(plan, id));
    if (JSON.stringify(was) !== JSON.stringify(is)) changed.push(`${name}: ${stripInWords(is)}`);
  }
  for (const listener of listenersOf(after)) {
    const [was, is] = [before, after].map((plan) => listenerSettings(plan, listener.id).asTheyCome);
    if (was !== is) changed.push(`${listenerName(listener)}: voices ${is ? 'as they come in' : 'through their strips'}`);
  }
  for (const { id, name } of sourcesOf(after)) {
    const [was, is] = [before, after].map((plan) => sourceSettings(plan, id).offsetMs);
    if (was !== is) changed.push(`${name}: ${is} ms later`);
  }
  if (changed.length === 0) return 'Nothing anybody hears';
  const named = changed.slice(0, MOST_NAMED);
  const more = changed.length - named.length;
  return `${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}
