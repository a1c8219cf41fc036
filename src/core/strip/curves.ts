import { bell, highPass, highShelf, lowShelf, responseDb, type Biquad } from '../dsp/biquad';
import type { StripSettings } from './settings';

/** Around its threshold the compressor's ratio comes in over this range, dB. */
export const KNEE_DB = 8;

export function lowCutFilters({ on, hz }: StripSettings['lowCut'], sampleRate: number): Biquad[] {
  return on ? [highPass(hz, sampleRate)] : [];
}

/** One filter a band, flat ones too, so that a band that is raised does not begin from nothing. */
export function equaliserFilters({ on, bands }: StripSettings['equaliser'], sampleRate: number): Biquad[] {
  if (!on) return [];
  return bands.map(({ hz, gainDb, q }, k) => {
    if (k === 0) return lowShelf(hz, gainDb, sampleRate);
    if (k === bands.length - 1) return highShelf(hz, gainDb, sampleRate);
    return bell(hz, gainDb, q, sampleRate);
  });
}

/** What low cut and equaliser together do to a tone, dB. */
export function toneDb(strip: StripSettings, hz: number, sampleRate: number): number {
  return [...lowCutFilters(strip.lowCut, sampleRate), ...equaliserFilters(strip.equaliser, sampleRate)].reduce((sum, filter) => sum + responseDb(filter, hz, sampleRate), 0);
}

/**
 * Gain of the compressor for a level, dB, without its make-up: the static curve with a soft knee (Giannoulis, Massberg and
 * Reiss, JAES 60(6), 2012, equation 4).
 */
export function compressorGainDb(levelDb: number, { thresholdDb, ratio }: Pick<StripSettings['compressor'], 'thresholdDb' | 'ratio'>): number {
  const over = levelDb - thresholdDb;
  const slope = 1 / ratio - 1;
  if (2 * over < -KNEE_DB) return 0;
  if (2 * over > KNEE_DB) return slope * over;
  return (slope * (over + KNEE_DB / 2) ** 2) / (2 * KNEE_DB);
}

/** Gain of the de-esser above its frequency for a level there, compared with the whole voice, dB. */
export function deEsserGainDb(relativeDb: number, { thresholdDb, rangeDb }: Pick<StripSettings['deEsser'], 'thresholdDb' | 'rangeDb'>): number {
  return -Math.min(rangeDb, Math.max(0, relativeDb - thresholdDb));
}
