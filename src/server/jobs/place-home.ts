import { alignHome, type Alignment } from '@/core/alignment/align-home';
import { between, coverOf, homeShare, joined, type Stretch } from '@/core/alignment/home-cover';
import { placed } from '@/core/alignment/placement';
import type { ReadSamples } from '@/core/alignment/recordings';
import { gainToDb } from '@/core/dsp/decibels';
import { CHUNK_FRAMES, SAMPLE_RATE } from '@/core/takes/chunks';
import { createHomeReader } from '../home/home-reader';
import { arrivedStretches, homesOfSeat } from '../home/queries';
import { completeDerivedTrack, findTake, findTrack, insertGap, removeTrack, type TrackRow } from '../takes/queries';
import { storeDerived } from './derived-track';
import { RefusedTask } from './refused';
import type { Work } from './work';
import { createTrackReader } from './track-reader';

const ALIGN_SHARE = 0.6;
/** From line to home and back in the best of both: 10 ms. */
const FADE = 480;
/** More stretches than these are summed up, not listed. */
const MOST_LISTED = 500;

interface Part {
  read: ReadSamples;
  found: Alignment;
  cover: Stretch[];
}

/** What is kept with a placed track. */
export interface PlacedHome {
  parts: { driftPpm: number; agreeing: number; sounding: number; jumps: number }[];
  /** Recordings that could not be placed: nothing of the line was found in them. */
  notPlaced: number;
  /** Level of the home recording against the line, dB. */
  homeGainDb: number;
  /** Where the line brought something else than was spoken. */
  better: { atSample: number; lengthSamples: number }[];
  betterSeconds: number;
  betterStretches: number;
}

/** Puts what was recorded at home on the clock of the take, and makes the best of both: home, and the line where home has nothing. */
export async function placeHome({ pool, take: takeId, progress }: Work, trackId: string): Promise<PlacedHome> {
  const take = await findTake(pool, takeId);
  if (take.length_samples === null) throw new RefusedTask('This take is still open; home tracks are placed when it is sealed.');
  const length = take.length_samples;
  const track = await findTrack(pool, takeId, trackId);
  const homes = await homesOfSeat(pool, takeId, track.recorded.replace(/^voice:/, ''));
  if (homes.length === 0) throw new RefusedTask(`Nothing was recorded at ${track.name}’s own end.`);
  const line = createTrackReader(pool, track, length).mono;
  const parts: Part[] = [];
  for (const [k, home] of homes.entries()) {
    const has = await arrivedStretches(pool, home.id);
    const read = createHomeReader(pool, home);
    const found = has.length === 0 ? null : await alignHome({ line, lineSamples: length, home: read, homeSamples: has.at(-1)!.to }, (share) => progress((ALIGN_SHARE * (k + share)) / homes.length));
    if (found) parts.push({ read, found, cover: coverOf(found.placement, has) });
  }
  if (parts.length === 0) throw new RefusedTask(`What was recorded at ${track.name}’s own end has nothing in common with their line that could be measured, so it was not placed.`);
  const cover = joined(parts.flatMap((part) => part.cover));
  const better = parts.flatMap(({ found, cover: own }) => found.better.filter(({ atSample, lengthSamples }) => own.some(({ from, to }) => atSample >= from && atSample + lengthSamples <= to)));
  const homeGain = parts[0].found.homeGain;
  const made: PlacedHome = {
    parts: parts.map(({ found }) => ({ driftPpm: found.clock.driftPpm, agreeing: found.agreeing, sounding: found.sounding, jumps: found.stretches.length - 1 })),
    notPlaced: homes.length - parts.length,
    homeGainDb: gainToDb(homeGain),
    better: better.slice(0, MOST_LISTED),
    betterSeconds: better.reduce((sum, { lengthSamples }) => sum + lengthSamples, 0) / SAMPLE_RATE,
    betterStretches: better.length,
  };
  const spent = (from: number) => (share: number) => progress(from + 0.2 * share);
  await make(track, 'home', pieces(length, (at, count) => homeSound(parts, at, count), spent(ALIGN_SHARE)), made);
  await make(track, 'best', pieces(length, (at, count) => bestOf(line, parts, cover, homeGain, at, count), spent(ALIGN_SHARE + 0.2)), made);
  return made;

  async function make(origin: TrackRow, kind: 'home' | 'best', sound: AsyncIterable<Float32Array>, words: PlacedHome): Promise<void> {
    const id = await storeDerived(pool, origin, kind, sound);
    try {
      if (kind === 'home') for (const { from, to } of between(cover, length)) await insertGap(pool, { track: id, atSample: from, lengthSamples: to - from, cause: 'not-at-home' });
      await completeDerivedTrack(pool, id, words);
    } catch (error) {
      await removeTrack(pool, id);
      throw error;
    }
  }
}

async function* pieces(length: number, sound: (at: number, count: number) => Promise<Float32Array>, progress: (share: number) => Promise<void>): AsyncGenerator<Float32Array> {
  for (let at = 0; at < length; at += CHUNK_FRAMES) {
    yield await sound(at, Math.min(CHUNK_FRAMES, length - at));
    await progress(Math.min(1, (at + CHUNK_FRAMES) / length));
  }
}

/** Every part where it lies; they never lie over each other, for one browser recorded them one after another. */
async function homeSound(parts: readonly Part[], at: number, count: number): Promise<Float32Array<ArrayBuffer>> {
  const out = new Float32Array(count);
  for (const { read, found, cover } of parts) {
    for (const { from, to } of cover) {
      const first = Math.max(at, from);
      const end = Math.min(at + count, to);
      if (end > first) out.set(await placed(read, found.placement, first, end - first), first - at);
    }
  }
  return out;
}

async function bestOf(line: ReadSamples, parts: readonly Part[], cover: readonly Stretch[], homeGain: number, at: number, count: number): Promise<Float32Array> {
  const home = await homeSound(parts, at, count);
  const inside = cover.some(({ from, to }) => at >= from + FADE && at + count <= to - FADE);
  if (inside) return home;
  const received = await line(at, count);
  for (let i = 0; i < count; i++) {
    const share = homeShare(cover, at + i, FADE);
    home[i] = share * home[i] + (1 - share) * homeGain * received[i];
  }
  return home;
}
