/** What a sound is for. */
export const SOUND_KINDS = ['clip', 'sting', 'bed', 'theme'] as const;
export type SoundKind = (typeof SOUND_KINDS)[number];

export const KIND_WORDS: Record<SoundKind, string> = Object.freeze({
  clip: 'clip: something to react to',
  sting: 'sting: short and sharp',
  bed: 'bed: under the voices',
  theme: 'theme: opens and closes',
});

/**
 * The loudness each kind is brought to, LUFS, unless the show says otherwise. Voices in a call lie near −20; what is heard alone
 * stands beside them, what lies under them a good way below.
 */
export const KIND_LUFS: Record<SoundKind, number> = Object.freeze({ clip: -20, sting: -18, bed: -30, theme: -20 });

/** No sound is brought above this true peak, dBTP, unless the show says otherwise. */
export const CEILING_DBTP = -1;

/** Sounds are turned up or down by no more than this, dB: what needs more is no sound but noise. */
const MOST_GAIN_DB = 30;

/**
 * The gain that brings a sound to the level wanted of it, under a true-peak ceiling; whole tenths
 * of a dB. 0 for silence.
 */
export function levellingGainDb(wantedLufs: number, ceilingDbtp: number, integratedLufs: number, truePeakDb: number): number {
  if (!Number.isFinite(integratedLufs) || !Number.isFinite(truePeakDb)) return 0;
  const wanted = wantedLufs - integratedLufs;
  const allowed = ceilingDbtp - truePeakDb;
  const gain = Math.max(-MOST_GAIN_DB, Math.min(MOST_GAIN_DB, wanted, allowed));
  return Math.floor(gain * 10) / 10;
}
