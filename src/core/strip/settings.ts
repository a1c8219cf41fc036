/**
 * A strip: what is done to a voice between its tap and the mixes, in this order. Its track stays as it came in. Levels are
 * dBFS of the mean square over some 10 ms, the loudest of which for a sine at full scale is −3.
 */
export interface StripSettings {
  /** Takes away what is below: steps, traffic, wind on the microphone. 12 dB an octave. */
  lowCut: { on: boolean; hz: number };
  /** Takes steady noise and keyboards out from under the voice. */
  noise: { on: boolean };
  /** Lowers pauses: what is below the threshold for longer than the hold goes down by the range. */
  gate: { on: boolean; thresholdDb: number; rangeDb: number; attackMs: number; holdMs: number; releaseMs: number };
  /** Four bands from low to high: a shelf, two bells, a shelf. */
  equaliser: { on: boolean; bands: EqualiserBand[] };
  /** Above the threshold a voice rises by one dB for every `ratio`; make-up raises all of it. */
  compressor: { on: boolean; thresholdDb: number; ratio: number; attackMs: number; releaseMs: number; makeUpDb: number };
  /** Lowers what is above `hz` where that is louder, compared with the whole voice, than the threshold. */
  deEsser: { on: boolean; hz: number; thresholdDb: number; rangeDb: number };
  /** No peak, between samples either, is let over the ceiling (dBTP). */
  limiter: { on: boolean; ceilingDb: number };
}

export interface EqualiserBand {
  hz: number;
  gainDb: number;
  /** Of the two bells; a shelf has none. */
  q: number;
}

export const INSERTS = ['lowCut', 'noise', 'gate', 'equaliser', 'compressor', 'deEsser', 'limiter'] as const;
export type InsertName = (typeof INSERTS)[number];

type Range = readonly [least: number, most: number];

/** What each setting may be. */
export const STRIP_RANGES = {
  lowCut: { hz: [30, 300] },
  gate: { thresholdDb: [-80, -20], rangeDb: [1, 60], attackMs: [1, 50], holdMs: [0, 1000], releaseMs: [20, 2000] },
  band: { hz: [40, 16_000], gainDb: [-12, 12], q: [0.3, 4] },
  compressor: { thresholdDb: [-60, 0], ratio: [1, 10], attackMs: [1, 100], releaseMs: [20, 2000], makeUpDb: [0, 18] },
  deEsser: { hz: [3000, 10_000], thresholdDb: [-30, 0], rangeDb: [1, 18] },
  limiter: { ceilingDb: [-20, -0.5] },
} as const satisfies Record<string, Record<string, Range>>;

/** A strip with everything off, and what each part would begin with. */
export const CLOSED_STRIP: StripSettings = Object.freeze<StripSettings>({
  lowCut: { on: false, hz: 80 },
  noise: { on: false },
  gate: { on: false, thresholdDb: -50, rangeDb: 12, attackMs: 5, holdMs: 250, releaseMs: 200 },
  equaliser: {
    on: false,
    bands: [
      { hz: 150, gainDb: 0, q: 0.7 },
      { hz: 400, gainDb: 0, q: 1 },
      { hz: 3000, gainDb: 0, q: 1 },
      { hz: 9000, gainDb: 0, q: 0.7 },
    ],
  },
  compressor: { on: false, thresholdDb: -26, ratio: 3, attackMs: 8, releaseMs: 160, makeUpDb: 0 },
  deEsser: { on: false, hz: 5500, thresholdDb: -10, rangeDb: 8 },
  limiter: { on: false, ceilingDb: -3 },
});

/** Whether a strip lets everything through as it is. */
export const isClosed = (strip: StripSettings): boolean => INSERTS.every((name) => !strip[name].on);

/** A strip with some settings of one insert changed. */
export function withInsert<Name extends InsertName>(strip: StripSettings, name: Name, change: Partial<StripSettings[Name]>): StripSettings {
  return { ...strip, [name]: { ...strip[name], ...change } };
}
