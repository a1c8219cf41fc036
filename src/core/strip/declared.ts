import { LIMITER_DELAY } from '../dsp/true-peak-limiter';
import { toneDb } from './curves';
import type { StripSettings } from './settings';

/** What comes out of the noise suppression is later by so many samples: a frame to fill, and one that overlaps. */
export const NOISE_DELAY = 960;

const RATE = 48_000;
const STEPS_AN_OCTAVE = 24;
/** From all but nothing (a shelf ends there) to all but half the rate, as tangents of half the angle. */
const [LOWEST, HIGHEST] = [2 ** -17, 2 ** 13];
/** Between two places looked at a response of bands this wide rises by less. */
const MARGIN_DB = 0.15;

/** By how much later a voice comes out of its strip, samples at 48 kHz. */
export function declaredDelay({ noise, limiter }: StripSettings): number {
  return (noise.on ? NOISE_DELAY : 0) + (limiter.on ? LIMITER_DELAY : 0);
}

/** The same in ms. */
export const declaredDelayMs = (strip: StripSettings): number => (declaredDelay(strip) * 1000) / RATE;

/** The most a strip raises any sound, dB; never below 0. What turns down only (gate, de-esser, limiter) is not counted on. */
export function declaredGainDb(strip: StripSettings): number {
  const makeUp = strip.compressor.on ? strip.compressor.makeUpDb : 0;
  return Math.max(0, makeUp + highestToneDb(strip));
}

function highestToneDb(strip: StripSettings): number {
  const { on, bands } = strip.equaliser;
  if (!on || bands.every(({ gainDb }) => gainDb <= 0)) return 0;
  let most = Math.max(...bands.map(({ hz }) => toneDb(strip, hz, RATE)));
  // The filters are bilinear transforms: what is even over octaves of an analogue one is squeezed towards half the rate, where
  // a bell ends and a shelf does not.
  for (let warped = LOWEST; warped < HIGHEST; warped *= 2 ** (1 / STEPS_AN_OCTAVE)) most = Math.max(most, toneDb(strip, (RATE / Math.PI) * Math.atan(warped), RATE));
  return Math.max(0, most + MARGIN_DB);
}
