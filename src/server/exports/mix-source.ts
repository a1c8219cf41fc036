import { createTruePeakLimiter, LIMITER_DELAY } from '@/core/dsp/true-peak-limiter';
import { createLoudnessMeasure, type Loudness } from '@/core/measure/loudness';
import { createTruePeakMeasure } from '@/core/measure/true-peak';
import { gainToDb } from '@/core/dsp/decibels';
import { createRemix, needsSuppressors, type RemixRequest } from '@/core/takes/remix';
import { loadSuppressors } from '../jobs/noise-library';
import type { TrackReader } from '../jobs/track-reader';
import type { SoundSource } from './sound-source';

const RATE = 48000;
const PIECE = RATE;

/** One track as it is. */
export function trackSource(reader: TrackReader, frames: number): SoundSource {
  return {
    channels: reader.track.channels,
    sampleRate: RATE,
    frames,
    async *pieces() {
      for (let at = 0; at < frames; at += PIECE) yield await reader.stretch(at, Math.min(PIECE, frames - at));
    },
  };
}

/** The program made anew from its tracks. */
export function remixSource(request: RemixRequest, readers: readonly TrackReader[], frames: number): SoundSource {
  return {
    channels: 2,
    sampleRate: RATE,
    frames,
    async *pieces() {
      const remix = createRemix(request, needsSuppressors(request) ? await loadSuppressors() : undefined);
      const read = (at: number) => {
        const tracks = Promise.all(readers.map((reader) => reader.stretch(at, Math.min(PIECE, frames - at))));
        // Whoever asked may be gone before it is there.
        tracks.catch(() => undefined);
        return tracks;
      };
      // The database reads the next second while this one is mixed.
      let next = read(0);
      for (let at = 0; at < frames; at += PIECE) {
        const tracks = await next;
        if (at + PIECE < frames) next = read(at + PIECE);
        yield remix.process(tracks, Math.min(PIECE, frames - at));
      }
    },
  };
}

export interface Measured extends Loudness {
  truePeakDb: number;
}

type Progress = (share: number) => Promise<void>;

/** Lets a sound through and measures it on the way; its loudness and true peak once it has gone through. */
function measuring(source: SoundSource, onProgress: Progress): { source: SoundSource; result(): Measured } {
  const loudness = createLoudnessMeasure(source.sampleRate, source.channels);
  const peaks = Array.from({ length: source.channels }, createTruePeakMeasure);
  return {
    source: {
      ...source,
      async *pieces() {
        let done = 0;
        for await (const piece of source.pieces()) {
          loudness.push(piece);
          piece.forEach((samples, c) => peaks[c].push(samples));
          done += piece[0].length;
          yield piece;
          await onProgress(done / source.frames);
        }
      },
    },
    result: () => ({ ...loudness.result(), truePeakDb: gainToDb(Math.max(...peaks.map((peak) => peak.result()))) }),
  };
}

/** Loudness and true peak of a whole sound. */
export async function measure(source: SoundSource, onProgress: Progress): Promise<Measured> {
  const { source: through, result } = measuring(source, onProgress);
  for await (const piece of through.pieces()) void piece;
  return result();
}

/** A louder or softer sound whose true peak stays under a ceiling. */
export function limited(source: SoundSource, gainDb: number, ceilingDb: number): SoundSource {
  return {
    ...source,
    async *pieces() {
      const limiter = createTruePeakLimiter(source.channels, ceilingDb, gainDb);
      let late = LIMITER_DELAY;
      const punctual = (piece: Float32Array<ArrayBuffer>[]) => {
        const skipped = Math.min(late, piece[0].length);
        late -= skipped;
        return piece.map((samples) => samples.subarray(skipped));
      };
      for await (const piece of source.pieces()) yield punctual(limiter.process(piece));
      yield punctual(limiter.process(Array.from({ length: source.channels }, () => new Float32Array(LIMITER_DELAY))));
    },
  };
}

/** How near to the target counts, LU, and how often the gain is tried anew because the limiter took some of it. */
const NEAR_LU = 0.1;
const MOST_TRIES = 8;
/** However little of it arrives, the gain is not raised by more than this at once, dB. */
const LARGEST_STEP_DB = 9;

/**
 * A sound at a loudness, under a ceiling. The limiter takes some of what the gain gives, so the gain is
 * found by measuring what comes out (secant method).
 * @param asItIs what {@link measure} says of the sound
 * @param write writes the sound while it is measured, where it is likely to be right; again where it was not
 * @returns whether what was written last is the sound
 */
export async function normalised(source: SoundSource, asItIs: Measured, targetLufs: number, ceilingDb: number, onProgress: Progress, write?: (source: SoundSource) => Promise<void>): Promise<{ source: SoundSource; measured: Measured; gainDb: number; written: boolean }> {
  const share = (tries: number) => 1 - 0.5 ** (tries - 1);
  const told = (tries: number) => (part: number) => onProgress(share(tries) + part * (share(tries + 1) - share(tries)));
  let measured = asItIs;
  if (!Number.isFinite(measured.integrated)) return { source, measured, gainDb: 0, written: false };
  let before = { gainDb: 0, lufs: measured.integrated };
  let gainDb = targetLufs - measured.integrated;
  let result = source;
  let written = false;
  for (let tries = 1; tries <= MOST_TRIES; tries++) {
    result = limited(source, gainDb, ceilingDb);
    // Where the limiter has nothing to do, and as a rule at the second try, the gain is what it has to be.
    written = write !== undefined && (tries > 1 || asItIs.truePeakDb + gainDb < ceilingDb);
    const through = measuring(result, told(tries));
    if (written) await write!(through.source);
    else for await (const piece of through.source.pieces()) void piece;
    measured = through.result();
    const missing = targetLufs - measured.integrated;
    if (Math.abs(missing) < NEAR_LU || tries === MOST_TRIES) break;
    const arrived = gainDb === before.gainDb ? 1 : (measured.integrated - before.lufs) / (gainDb - before.gainDb);
    before = { gainDb, lufs: measured.integrated };
    gainDb += Math.max(-LARGEST_STEP_DB, Math.min(LARGEST_STEP_DB, missing / Math.max(0.05, arrived)));
  }
  return { source: result, measured, gainDb, written };
}
