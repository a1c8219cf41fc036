import { nameInId } from './ids';
import { listenersOf, sourcesOf, type HearingPlan, type Listener, type Seat } from './plan';

/** A place of the plan in a host's words: `Tomasz`, `Tomasz’s return`, `Tomasz’s ears`, `the program`. */
export function placeName(plan: HearingPlan, id: string): string {
  const source = sourcesOf(plan).find((one) => one.id === id);
  if (source) return source.name;
  const listener = listenersOf(plan).find((one) => one.id === id);
  if (listener) return listenerName(listener);
  const seat = plan.seats.find((one) => `ears:${one.id}` === id);
  return seat ? `${seat.name}’s ears` : nameInId(id as `voice:${string}`);
}

export function listenerName(listener: Listener): string {
  switch (listener.kind) {
    case 'phones':
      return `${listener.name}’s phones`;
    case 'return':
      return `${listener.name}’s return`;
    case 'program':
      return 'the program';
    case 'feed':
      return `the feed “${listener.name}”`;
  }
}

/** Who sits in a seat: `Odalys`, or with everybody on the line `Harbour office (Ana and Ben)`. */
export const personInWords = ({ name, people }: Pick<Seat, 'name' | 'people'>): string => (people && people.length > 1 ? `${name} (${listInWords(people)})` : name);

/** Level in words with a true minus sign: `−18 dB`; in whole decibels, or in the steps it is set in. */
export function dbInWords(db: number, stepDb = 1): string {
  const rounded = stepDb * Math.round(db / stepDb);
  return `${rounded < 0 ? '−' : rounded > 0 ? '+' : ''}${Math.abs(rounded)} dB`;
}

/** {@link listInWords}, but no longer than one can take in: `Maren, Odalys, Priya and 18 others`. */
export function someInWords(words: readonly string[], most = 4): string {
  if (words.length <= most + 1) return listInWords(words);
  return listInWords([...words.slice(0, most), `${words.length - most} others`]);
}

/** `Maren`, `Maren and Priya`, `Maren, Priya and the sounds` */
export function listInWords(words: readonly string[]): string {
  if (words.length < 2) return words[0] ?? '';
  return `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}
