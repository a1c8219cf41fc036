import { SPEECH_SPECTRUM } from '../measure/speech-spectrum';

/** The third octaves of {@link SPEECH_SPECTRUM} that a line brings: a telephone's are fewer than a voice's. */
export interface LineBand {
  /** Places of the lowest and of the highest. */
  first: number;
  last: number;
  /** Where the line ends, Hz; null where it carries all of them. */
  endsHz: number | null;
}

/** A third octave as weak as this does not come by the line at all. */
const MISSING_DB = -24;
/** The last one before the end is half filled when it is so much weaker than the one before it. */
const CUT_DB = 8;
/** No voice thins out like this towards its lowest tones; the filter of a telephone does, from a third octave to the next. */
const THIN_DB = -10;
const FALLING_DB = 3;
const EDGE = 2 ** (1 / 6);

/**
 * Where a line begins and ends, judged by the voice that came over it.
 * @param toneDb how a voice differs from speech at large in each third octave, dB
 */
export function bandsCarried(toneDb: readonly number[]): LineBand {
  let last = toneDb.length - 1;
  while (last > 0 && toneDb[last] < MISSING_DB) last--;
  if (last < toneDb.length - 1 && last > 0 && toneDb[last] < toneDb[last - 1] - CUT_DB) last--;
  let first = 0;
  while (first < last && (toneDb[first] < MISSING_DB || (toneDb[first] < THIN_DB && toneDb[first + 1] > toneDb[first] + FALLING_DB))) first++;
  return { first, last, endsHz: last === toneDb.length - 1 ? null : SPEECH_SPECTRUM[last][0] * EDGE };
}
