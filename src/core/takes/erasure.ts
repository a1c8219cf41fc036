/** Somebody of whom nothing may stay in what is kept. */
export interface Erased {
  /** Their seats' ids, and what stands for each from now on. */
  seats: ReadonlyMap<string, string>;
  /** What they were called; each is taken out wherever it stands as a word. */
  names: readonly string[];
}

/** What stands where somebody's name did. */
export const ERASED_NAME = 'Erased guest';

/** Where a seat is meant by its bare id. Anywhere else the same word means something else: a role, a rule, a player. */
const SEATS_IN = ['seat', 'seats', 'waiting', 'person'];
/** Written by people, whatever it looks like. */
const WRITTEN_IN = ['name', 'names', 'label', 'title', 'text', 'note', 'words', 'accepted'];
/** A role, a rule, an id: words of the product’s own. */
const OUR_OWN = /^[a-z0-9:>|-]+$/;
const PREFIXES = 'voice|return|phones|talkback|ears|processed';

const AN_ID = new RegExp(`^(?:${PREFIXES}):`);

const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

interface Patterns {
  ids: { pattern: RegExp; instead: string }[];
  names: RegExp | null;
  seats: ReadonlyMap<string, string>;
}

function patternsOf({ seats, names }: Erased): Patterns {
  const said = names.filter((name) => name.trim() !== '').sort((a, b) => b.length - a.length);
  return {
    seats,
    ids: [...seats].map(([id, instead]) => ({ pattern: new RegExp(`\\b(${PREFIXES}):${escaped(id)}(?![a-z0-9-])`, 'g'), instead: `$1:${instead}` })),
    // Ids are matched first, so that no name is found within one.
    names: said.length === 0 ? null : new RegExp(`\\b(?:${PREFIXES}):[a-z0-9-]+|(?<![\\p{L}\\p{N}])(?:${said.map(escaped).join('|')})(?![\\p{L}\\p{N}])`, 'giu'),
  };
}

/** A text without their names and without the ids of what was theirs. */
export function eraseInText(text: string, who: Erased): string {
  return inText(text, patternsOf(who));
}

function inText(text: string, { ids, names }: Patterns): string {
  const withoutIds = ids.reduce((left, { pattern, instead }) => left.replace(pattern, instead), text);
  return names ? withoutIds.replace(names, (found) => (AN_ID.test(found) ? found : ERASED_NAME)) : withoutIds;
}

/**
 * Any kept value (a plan, hands, what was plugged in, what was measured) as it is without them: their seat keeps its place under
 * another id, so that whatever else it says stays as it was.
 */
export function eraseInJson(value: unknown, who: Erased): unknown {
  return inJson(value, patternsOf(who), '');
}

function inJson(value: unknown, patterns: Patterns, place: string): unknown {
  if (typeof value === 'string') {
    if (SEATS_IN.includes(place)) return patterns.seats.get(value) ?? value;
    return inText(value, OUR_OWN.test(value) && !WRITTEN_IN.includes(place) ? { ...patterns, names: null } : patterns);
  }
  if (Array.isArray(value)) return value.map((one) => inJson(one, patterns, place));
  if (typeof value !== 'object' || value === null) return value;
  const isTheirSeat = place === 'seats' && patterns.seats.has((value as { id?: string }).id ?? '');
  const entries = Object.entries(value)
    // Who else spoke on their line says who they were.
    .filter(([key]) => !(isTheirSeat && key === 'people'))
    .map(([key, inner]): [string, unknown] => [inText(key, OUR_OWN.test(key) ? { ...patterns, names: null } : patterns), inJson(inner, patterns, place === 'seats' && key === 'id' ? 'seat' : key)]);
  const own = isTheirSeat ? [['name', ERASED_NAME], ['reflexive', 'themselves']] : [];
  return Object.fromEntries([...entries, ...own]);
}
