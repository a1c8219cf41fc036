import { heardAt } from './compile';
import { dbInWords, listenerName } from './names';
import { NOTHING_ON_AIR } from './on-air';
import { listenersOf, sourcesOf, type HearingPlan } from './plan';
import { processingInWords, processingOf } from './processing';

/** How many crosspoints are named one by one. */
const MOST_NAMED = 2;

/** What a change of plan did, for a list: `Bed into the program: closed` or `12 crosspoints changed`. */
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
    const [was, is] = [before, after].map((plan) => processingInWords(processingOf(plan, id)));
    if (was !== is) changed.push(`${name}: ${is}`);
  }
  if (changed.length === 0) return 'Nothing anybody hears';
  const named = changed.slice(0, MOST_NAMED);
  const more = changed.length - named.length;
  return `${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}
