import { gainToDb } from '../dsp/decibels';
import { createLoudnessMeasure } from '../measure/loudness';
import { createTruePeakMeasure } from '../measure/true-peak';

/** What is known of a sound once it is in the library. */
export interface SoundMeasures {
  lengthSamples: number;
  /** LUFS; `-Infinity` for silence. */
  integratedLufs: number;
  /** The loudest 3 s, LUFS. */
  shortTermLufs: number;
  /** dBTP */
  truePeakDb: number;
  /** Samples before and after which nothing rises above −60 dBFS. */
  headSilenceSamples: number;
  tailSilenceSamples: number;
}

const SILENCE = 10 ** (-60 / 20);
/** Measured in pieces, so that progress can be shown and the work broken off. */
const PIECE_SAMPLES = 48000;

/**
 * Measures a sound at 48 kHz.
 * @param onProgress share done, 0 to 1; false breaks the work off
 * @throws {DOMException} AbortError when it was broken off
 */
export function measureSound(channels: readonly Float32Array[], onProgress: (share: number) => boolean = () => true): SoundMeasures {
  const { length } = channels[0];
  const loudness = createLoudnessMeasure(48000, channels.length);
  const peaks = channels.map(() => createTruePeakMeasure());
  for (let from = 0; from < length; from += PIECE_SAMPLES) {
    if (!onProgress(from / length)) throw new DOMException('The import was cancelled.', 'AbortError');
    const piece = channels.map((samples) => samples.subarray(from, Math.min(length, from + PIECE_SAMPLES)));
    loudness.push(piece);
    piece.forEach((samples, k) => peaks[k].push(samples));
  }
  const { integrated, shortTermMax } = loudness.result();
  const sounds = (i: number) => channels.some((samples) => Math.abs(samples[i]) > SILENCE);
  let head = 0;
  while (head < length && !sounds(head)) head++;
  let tail = 0;
  while (tail < length - head && !sounds(length - 1 - tail)) tail++;
  return {
    lengthSamples: length,
    integratedLufs: integrated,
    shortTermLufs: shortTermMax,
    truePeakDb: gainToDb(Math.max(...peaks.map((one) => one.result()))),
    headSilenceSamples: head,
    tailSilenceSamples: tail,
  };
}
