import type { Random } from '../../src/core/random';
import type { FarGuest, Mishap } from './far-guests';
import type { Gap } from './judge';

/** From one mishap to the next, and how long a network is away, s. */
const PAUSE_SECONDS = [50, 200];
const AWAY_SECONDS = [1, 20];
/** After a guest is back in the call it may take so long until sound flows again; what is in the line's buffers comes as late before it. */
const AROUND_MS = 15_000;

export interface Happened {
  guest: string;
  mishap: Mishap;
  /** How long the network was away. */
  seconds: number;
  /** From the beginning of the take, ms: when it began, and when the guest was back. */
  atMs: number;
  backMs: number;
  /** What the page of a guest said who did not come back; null of one who did. */
  words: string | null;
}

const between = (random: Random, [least, most]: number[]): number => least + (most - least) * random.next();

/** What happens next, to whom, and when. Without guests nobody suffers, and a sound is played all the same. */
export function nextMishap(random: Random, guests: readonly FarGuest[], nowMs = 0): { atMs: number; far: FarGuest | null; mishap: Mishap; seconds: number } {
  const far = guests.length > 0 ? guests[random.index(guests.length)] : null;
  const kinds = far?.mishaps ?? ['reload'];
  return { atMs: nowMs + 1000 * between(random, PAUSE_SECONDS), far, mishap: kinds[random.index(kinds.length)], seconds: between(random, AWAY_SECONDS) };
}

/** The stretches of somebody's track in which a mishap may leave silence: a page that has just been loaded sends some before its microphone. */
export function spoilt(mishaps: readonly Happened[], name: string, recorded: string): Gap[] {
  const own = mishaps.filter(({ guest }) => name.startsWith(guest));
  return own.map(({ atMs, backMs }) => ({ recorded, atSample: Math.round(48 * (atMs - AROUND_MS)), lengthSamples: Math.round(48 * (backMs - atMs + 2 * AROUND_MS)), cause: 'mishap' }));
}

/** Gaps that nothing we did and nothing the machine did explains: whoever suffered a mishap is out for a while, and a machine that stands still delivers late. */
export function unexplained(gaps: readonly Gap[], mishaps: readonly Happened[], stoodStill: (atMs: number) => boolean, tracks: readonly { recorded: string; name: string }[]): Gap[] {
  return gaps.filter(({ recorded, atSample, lengthSamples, cause }) => {
    const [from, to] = [atSample / 48, (atSample + lengthSamples) / 48];
    const who = tracks.find((track) => track.recorded === recorded)?.name ?? '';
    if (mishaps.some(({ guest, atMs, backMs }) => who.startsWith(guest) && from > atMs - AROUND_MS && to < backMs + AROUND_MS)) return false;
    return !(cause === 'device-late' && stoodStill(from));
  });
}
