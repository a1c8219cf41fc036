import { createTruePeakLimiter, LIMITER_DELAY } from '@/core/dsp/true-peak-limiter';
import { createLimitedLoudness } from '@/core/measure/limited-loudness';
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

/** A sound as it is, and what it would take to have it at a loudness. */
export interface Forecast extends Measured {
  /** The gain before a limiter at `ceilingDb` (dBTP) with which it is about so loud, dB. */
  gainFor(targetLufs: number, ceilingDb: number): number;
}

type Progress = (share: number) => Promise<void>;

/** Something that is given the pieces of a sound. */
interface Pushed {
  push(channels: readonly Float32Array[]): void;
}

/** Lets a sound through and measures it on the way; `truePeakDb` once it has gone through. */
function watching(source: SoundSource, loudness: Pushed, onProgress: Progress): { source: SoundSource; truePeakDb(): number } {
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
    truePeakDb: () => gainToDb(Math.max(...peaks.map((peak) => peak.result()))),
  };
}

/** Loudness and true peak of a whole sound at 48 kHz, and how it would be behind a limiter. */
export async function measure(source: SoundSource, onProgress: Progress): Promise<Forecast> {
  const loudness = createLimitedLoudness(source.frames, source.channels);
  const watched = watching(source, loudness, onProgress);
  for await (const piece of watched.source.pieces()) void piece;
  return { ...loudness.loudness(), truePeakDb: watched.truePeakDb(), gainFor: loudness.gainFor };
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

/** How near to the target counts, LU, and how often the gain is tried anew because the limiter took more or less than was told. */
const NEAR_LU = 0.1;
const MOST_TRIES = 8;

/**
 * A sound at a loudness, under a ceiling. The limiter takes some of what the gain gives; how much is told beforehand, measured
 * while the sound goes through, and told better where that was wrong.
 * @param asItIs what {@link measure} says of the sound
 * @param write writes the sound while it is measured; again where it was not near enough
 * @returns whether what was written last is the sound
 */
export async function normalised(source: SoundSource, asItIs: Forecast, targetLufs: number, ceilingDb: number, onProgress: Progress, write?: (source: SoundSource) => Promise<void>): Promise<{ source: SoundSource; measured: Measured; gainDb: number; written: boolean }> {
  if (!Number.isFinite(asItIs.integrated)) return { source, measured: asItIs, gainDb: 0, written: false };
  const share = (tries: number) => 1 - 0.5 ** tries;
  let aimedAt = targetLufs;
  for (let tries = 1; ; tries++) {
    const gainDb = asItIs.gainFor(aimedAt, ceilingDb);
    const result = limited(source, gainDb, ceilingDb);
    const loudness = createLoudnessMeasure(source.sampleRate, source.channels);
    const through = watching(result, loudness, (part) => onProgress(share(tries - 1) + part * (share(tries) - share(tries - 1))));
    if (write) await write(through.source);
    else for await (const piece of through.source.pieces()) void piece;
    const measured = { ...loudness.result(), truePeakDb: through.truePeakDb() };
    const missing = targetLufs - measured.integrated;
    if (Math.abs(missing) < NEAR_LU || tries === MOST_TRIES) return { source: result, measured, gainDb, written: write !== undefined };
    aimedAt += missing;
  }
}
