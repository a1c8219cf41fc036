import { simulateSources } from '../../e2e/simulate';
import type { readTake } from '../../e2e/newest-take';

const BLOCK = 128;
/** A new desk's call ran for at most so long before the take went on. */
const SEARCHED_SECONDS = 90;
/** Silence of all voices together for longer than this is a gap, or a pause of the conversation that the truth has too. */
const PROBE = 512;

export interface JudgedTake {
  seconds: number;
  /** Difference from what the lines sent, the worst track of the worst stretch between gaps, dBFS RMS. */
  worstDb: number;
  /** Stretches that lie nowhere in what the lines sent. */
  unlisted: number;
  /** For each kill of a desk, what had been captured and was not kept, ms. */
  lostMs: number[];
}

/** Of a line by devices, which no calculation tells to the sample. */
export interface JudgedPair {
  /** Desks that lasted long enough for somebody to speak there, and those of them in whose stretch nobody is heard. */
  stretches: number;
  silent: number;
  /** Gaps that no kill explains, by their cause, ms. */
  gapsMs: Record<string, number>;
}

/** So long a stretch had somebody of the outside program in it whenever it was looked at; a shorter one may be a pause. */
const SPOKEN_WITHIN = 12 * 48_000;
const SPEECH = 0.003;

interface Gap {
  recorded: string;
  atSample: number;
  lengthSamples: number;
  cause: string;
}

/** Compares a take with what its simulated lines sent: each stretch between the gaps is looked for in the call of its own desk. */
export function judgeTake(take: Awaited<ReturnType<typeof readTake>>, tracks: { source: string; samples: Float32Array }[], gaps: readonly Gap[], away: readonly { killedAt: number; wentOnAt: number }[]): JudgedTake {
  const { starts, stretches } = desksOf(gaps, take.lengthSamples);
  const longest = Math.max(...stretches.map(({ from, to }) => to - from));
  const sent = simulateSources({ ...take, clockAtCall: 0, clockAtStart: 0, lengthSamples: longest + SEARCHED_SECONDS * 48000, bellAt: -1, bellLevelDb: 0 });
  const truth = tracks.map(({ source }) => sent.get(source)![0]);
  let worst = 0;
  let unlisted = 0;
  for (const { from, to } of stretches) {
    const difference = placeOf(tracks.map(({ samples }) => samples.subarray(from, to)), truth);
    if (difference === null) unlisted++;
    else worst = Math.max(worst, difference);
  }
  return {
    seconds: take.lengthSamples / 48000,
    worstDb: worst === 0 ? -200 : 20 * Math.log10(worst),
    unlisted,
    lostMs: away.map(({ killedAt, wentOnAt }, k) => Math.round((starts[k]?.lengthSamples ?? Infinity) / 48 - (wentOnAt - killedAt))),
  };
}

/** Where desks went, and the stretches between. */
function desksOf(gaps: readonly Gap[], lengthSamples: number): { starts: Gap[]; stretches: { from: number; to: number }[] } {
  const starts = [...new Map(gaps.filter(({ cause }) => cause === 'desk-away').map((gap) => [gap.atSample, gap])).values()].sort((a, b) => a.atSample - b.atSample);
  const edges = [{ atSample: 0, lengthSamples: 0 }, ...starts, { atSample: lengthSamples, lengthSamples: 0 }];
  return { starts, stretches: edges.slice(1).map((next, k) => ({ from: edges[k].atSample + edges[k].lengthSamples, to: next.atSample })) };
}

/** Whether a line by devices is heard again at every desk. @param gaps its own */
export function judgePair(samples: Float32Array, gaps: readonly Gap[]): JudgedPair {
  const long = desksOf(gaps, samples.length).stretches.filter(({ from, to }) => to - from >= SPOKEN_WITHIN);
  const gapsMs: Record<string, number> = {};
  for (const { cause, lengthSamples } of gaps) if (cause !== 'desk-away') gapsMs[cause] = Math.round((gapsMs[cause] ?? 0) + lengthSamples / 48);
  return { stretches: long.length, silent: long.filter(({ from, to }) => samples.subarray(from, to).every((sample) => Math.abs(sample) < SPEECH)).length, gapsMs };
}

/** The root of the mean squared difference of a stretch from the truth at the one place where it fits; null where it fits nowhere. */
function placeOf(stretch: readonly Float32Array[], truth: readonly Float32Array[]): number | null {
  const length = stretch[0].length;
  if (length === 0) return 0;
  const probe = loudestPlace(stretch);
  for (let offset = 0; offset + length <= truth[0].length; offset += BLOCK) {
    if (differenceAt(stretch, truth, offset, probe, Math.min(length, probe + PROBE)) > 1e-4) continue;
    if (differenceAt(stretch, truth, offset, 0, length) < 1e-4) return rmsAt(stretch, truth, offset);
  }
  return null;
}

/** Of the track that differs most. */
function rmsAt(stretch: readonly Float32Array[], truth: readonly Float32Array[], offset: number): number {
  return Math.max(...stretch.map((samples, k) => Math.sqrt(samples.reduce((sum, sample, i) => sum + (sample - truth[k][offset + i]) ** 2, 0) / samples.length)));
}

function differenceAt(stretch: readonly Float32Array[], truth: readonly Float32Array[], offset: number, from: number, to: number): number {
  let most = 0;
  for (const [k, samples] of stretch.entries()) for (let i = from; i < to; i++) most = Math.max(most, Math.abs(samples[i] - truth[k][offset + i]));
  return most;
}

function loudestPlace(stretch: readonly Float32Array[]): number {
  let [best, most] = [0, -1];
  for (let at = 0; at + PROBE <= stretch[0].length; at += PROBE) {
    let power = 0;
    for (const samples of stretch) for (let i = at; i < at + PROBE; i++) power += samples[i] * samples[i];
    if (power > most) [best, most] = [at, power];
  }
  return best;
}
