import type { InsertName } from '@/core/strip/settings';
import { formatDb } from '../format';

export const INSERT_WORDS: Record<InsertName, { name: string; does: string }> = {
  lowCut: { name: 'Low cut', does: 'Takes away what is below the voice: steps, traffic, wind.' },
  noise: { name: 'Noise suppression', does: 'Takes fans, hiss and keyboards out from under the words. Hear the difference before you keep it.' },
  gate: { name: 'Gate', does: 'Lowers the room in pauses, when nobody speaks for a moment.' },
  equaliser: { name: 'Tone', does: 'Raises or lowers four parts of the voice.' },
  compressor: { name: 'Even out', does: 'Holds loud words down, so that all of it can be louder.' },
  deEsser: { name: 'Soften sharp s', does: 'Lowers the top only while an s hisses.' },
  limiter: { name: 'Peak limit', does: 'Lets no peak over the ceiling, between samples either.' },
};

export const BAND_NAMES = ['Low', 'Low middle', 'High middle', 'High'];

export const hertz = (hz: number): string => (hz < 1000 ? `${Math.round(hz)} Hz` : `${Math.round(hz / 10) / 100} kHz`);
export const decibels = (db: number): string => formatDb(db);
export const milliseconds = (ms: number): string => `${Math.round(ms)} ms`;
export const ratio = (value: number): string => `${value} : 1`;
