/**
 * Long-term average spectrum of speech in third-octave bands, dB, men and women together (Byrne et al., Journal of the
 * Acoustical Society of America 96, 1994, table II). Only the shape is used.
 */
export const SPEECH_SPECTRUM: readonly (readonly [hz: number, levelDb: number])[] = [
  [160, 56.8],
  [200, 60.2],
  [250, 60.3],
  [315, 59],
  [400, 62.1],
  [500, 62.1],
  [630, 60.5],
  [800, 56.8],
  [1000, 53.7],
  [1250, 53],
  [1600, 52],
  [2000, 48.7],
  [2500, 48.1],
  [3150, 46.8],
  [4000, 45.6],
  [5000, 44.5],
  [6300, 44.3],
  [8000, 43.7],
  [10000, 43.4],
];

/** What every line carries of it, narrow ones too. */
const BANDS = SPEECH_SPECTRUM.filter(([hz]) => hz >= 315 && hz <= 5000);

/** A third of an octave, and how much of a voice's energy lies in it. */
export interface SpeechBand {
  fromHz: number;
  toHz: number;
  /** Of all bands together, 1. */
  share: number;
}

const EDGE = 2 ** (1 / 6);
const total = BANDS.reduce((sum, [, level]) => sum + 10 ** (level / 10), 0);

export const SPEECH_BANDS: readonly SpeechBand[] = BANDS.map(([hz, level]) => ({ fromHz: hz / EDGE, toHz: hz * EDGE, share: 10 ** (level / 10) / total }));

/** Power of speech for each hertz around a frequency, dB, between the bands in a straight line over the logarithm of frequency. */
export function speechLevelDb(hz: number): number {
  const densities = BANDS.map(([middle, level]) => level - 10 * Math.log10(middle * (EDGE - 1 / EDGE)));
  const above = BANDS.findIndex(([middle]) => middle >= hz);
  if (above === 0) return densities[0];
  if (above < 0) return densities[densities.length - 1];
  const [low, high] = [BANDS[above - 1][0], BANDS[above][0]];
  const part = Math.log(hz / low) / Math.log(high / low);
  return densities[above - 1] * (1 - part) + densities[above] * part;
}
