import { listInWords } from '../hearing/names';

/** What a title is made of, while nothing was typed. */
export interface OnTheAir {
  show: string;
  episode: string;
  /** Whoever is in the call, the host first. */
  people: readonly string[];
  /** What plays and the audience hears, newest last. */
  sounds: readonly { name: string; credit: string; seconds: number }[];
}

/** A shorter sound is a sign, and nothing to name, seconds. */
const NAMED_FROM_SECONDS = 8;
/** More names than this make no title. */
const MOST_PEOPLE = 4;

/** What listeners read: the sound that plays, with its credit; otherwise show, episode and who is in. */
export function titleOf({ show, episode, people, sounds }: OnTheAir): { text: string; by: 'sound' | 'episode' } {
  const sound = sounds.findLast(({ seconds }) => seconds >= NAMED_FROM_SECONDS);
  if (sound) return { text: sound.credit === '' ? sound.name : `${sound.credit} - ${sound.name}`, by: 'sound' };
  const who = people.length === 0 ? '' : people.length > MOST_PEOPLE ? ` with ${people.length} people` : ` with ${listInWords(people)}`;
  return { text: `${show} - ${episode}${who}`, by: 'episode' };
}
