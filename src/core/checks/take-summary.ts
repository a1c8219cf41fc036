import { isFault } from '../takes/gaps';
import { neverInCall } from '../takes/presence';
import type { TakeData } from '../session/take-data';
import { findingsOf } from './findings';
import type { TakeCheck } from './take-check';

export interface TakeSummary {
  /** Whose voices are on it, in the order of the tracks; each one's share of all that was said, 0 to 1, once that is measured. */
  people: { name: string; share: number | null }[];
  verdict: 'open' | 'unchecked' | 'good' | 'notice' | 'fault';
  /** The verdict, or the worst that was found, in a sentence. */
  words: string;
  /** Other things that were found beside that one. */
  more: number;
  /** Guests’ own recordings: how many there are, and how many are here whole. */
  homes: { all: number; here: number };
}

/** A take in a few words: who is in it, and whether it is good. */
export function summaryOf(take: Pick<TakeData, 'state' | 'tracks' | 'gaps' | 'lengthSamples' | 'homes'>, check: TakeCheck | null): TakeSummary {
  const away = neverInCall(take.gaps, take.lengthSamples);
  const voices = take.tracks.filter(({ kind, id }) => kind === 'voice' && !away.has(id));
  const spoken = voices.map(({ id }) => check?.tracks.find(({ track }) => track === id)?.speechShare ?? 0);
  const all = spoken.reduce((sum, share) => sum + share, 0);
  const people = voices.map(({ name }, k) => ({ name, share: check && all > 0 ? spoken[k] / all : null }));
  const homes = { all: take.homes.length, here: take.homes.filter(({ complete }) => complete).length };
  return { people, homes, ...verdictOf(take, check) };
}

function verdictOf(take: Pick<TakeData, 'state' | 'tracks' | 'gaps' | 'lengthSamples'>, check: TakeCheck | null): Pick<TakeSummary, 'verdict' | 'words' | 'more'> {
  if (take.state === 'recording') return { verdict: 'open', words: 'It was left open: seal it in Live.', more: 0 };
  const lost = take.gaps.filter(({ cause }) => isFault(cause));
  const tracks = new Set(lost.map(({ track }) => track)).size;
  const found = check ? findingsOf(take, check) : [];
  const [worst] = found;
  if (worst?.severity === 'fault') return { verdict: 'fault', words: worst.words, more: found.length - 1 };
  if (lost.length > 0) return { verdict: 'notice', words: `Sound was lost on ${tracks === 1 ? 'one track' : `${tracks} tracks`}; the gaps are listed.`, more: found.length };
  if (!check) return { verdict: 'unchecked', words: 'Not checked yet.', more: 0 };
  if (worst) return { verdict: 'notice', words: worst.words, more: found.length - 1 };
  return { verdict: 'good', words: 'Every track is whole and nobody is in anybody else’s.', more: 0 };
}
