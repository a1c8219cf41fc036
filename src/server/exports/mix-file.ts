import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import type { Kept } from '@/core/takes/silent-ends';
import { RefusedTask } from '../jobs/refused';
import { createTrackReader } from '../jobs/track-reader';
import type { TakeMarker } from '@/core/takes/markers';
import { findRecordingSettings } from '../shows/recording-settings';
import { findSoundSettings } from '../shows/sound-settings';
import { listPlays } from '../takes/plays';
import { listTracks } from '../takes/queries';
import { isSource } from '../takes/source-tracks';
import { takeLog } from '../takes/take-log';
import { STORING_SHARE, watched, type ExportJob, type MadeFile } from './export-job';
import { mixEndsFile } from './mix-ends-file';
import { measure, normalised, remixSource, trackSource } from './mix-source';
import { cutTo, findingEnds } from './cut-ends';
import { atRate, type SoundSource } from './sound-source';
import { framedMix, type FramedMix } from './frame-mix';
import { fromSpool, spooling } from './spool';
import { broadcastFacts } from './file-facts';
import { writeSound } from './write-sound';

/** The mix of a take, at the show's loudness where that was asked for. */
export async function mixFile(job: ExportJob): Promise<MadeFile> {
  const { params, pool, naming } = job;
  const settings = await findRecordingSettings(pool, naming.showId);
  // Of both ends alone there is next to nothing to make once the mix is measured.
  const encodingFrom = params.ends ? 0.8 : params.normalise ? 0.6 : 0.2;
  const whole = await mixOf(job);
  const ends = findingEnds(whole);
  // Made once; each look at it, and the file, come from the disk.
  const spool = join(job.folder, 'mix.spool');
  const asItIs = await measure(spooling(params.cutEnds ? ends.source : whole, spool), (share) => job.progress(0.5 * encodingFrom * share));
  const kept = params.cutEnds ? ends.kept() : { from: 0, to: whole.frames };
  const talk = cutTo(fromSpool(whole, spool), kept);
  const framed = params.opening || params.closing ? await framedMix(pool, talk, params, (await findSoundSettings(pool, naming.showId)).underTalk) : null;
  const raw = framed?.source ?? talk;
  const before = framed || params.cutEnds ? await measure(raw, () => Promise.resolve()) : asItIs;
  const name = `${naming.take}_mix.${params.file}`;
  const path = join(job.folder, name);
  const cut = { ...cutJob(job, kept, framed?.framing.talkFrom ?? 0), markers: await chaptersOf(job, kept, framed), lengthSamples: raw.frames };
  const facts = broadcastFacts(cut, params.rate, `${naming.show}: ${naming.episodeTitle}, mix`);
  const write = (sound: SoundSource, all: BroadcastFacts): Promise<void> => writeSound(cut, path, atRate(sound, params.rate), 'pcm24', naming.show, all);
  // A WAV says at its beginning how loud it is; the others need not wait for it.
  const early = params.ends || params.file === 'wav' ? undefined : (sound: SoundSource) => write(sound, facts);
  const { source, measured, gainDb, written } = params.normalise
    ? await normalised(raw, before, settings.targetLufs, settings.ceilingDb, (share) => job.progress(encodingFrom * (0.5 + 0.5 * share)), early)
    : { source: raw, measured: before, gainDb: 0, written: false };
  if (params.ends) return mixEndsFile(job, source);
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  const loudness = {
    integratedLufs: finite(measured.integrated),
    rangeLu: measured.range,
    truePeakDb: finite(measured.truePeakDb),
    momentaryMaxLufs: finite(measured.momentaryMax),
    shortTermMaxLufs: finite(measured.shortTermMax),
  };
  if (!written) await write(watched(source, (share) => job.progress(encodingFrom + (1 - STORING_SHARE - encodingFrom) * share)), { ...facts, loudness });
  return { path, name, measured: { integratedLufs: loudness.integratedLufs, truePeakDb: loudness.truePeakDb, gainDb } };
}

/** The job as if the take had begun where its mix does. */
const cutJob = (job: ExportJob, { from }: Kept, talkFrom: number): ExportJob => ({ ...job, row: { ...job.row, started_at: new Date(job.row.started_at.getTime() + (from - talkFrom) / 48) } });

/** A sound shorter than this begins no chapter, samples. */
const CHAPTER_FROM = 8 * 48_000;

/** What comes when in the finished mix: markers, and where that is wanted what was played, the opening and the closing. */
async function chaptersOf(job: ExportJob, { from, to }: Kept, framed: FramedMix | null): Promise<TakeMarker[]> {
  const { params, pool, row } = job;
  const sound = (name: string, atSample: number): TakeMarker => ({ id: randomUUID(), name, atSample, lengthSamples: 0 });
  const played = params.soundChapters ? (await listPlays(pool, row.id)).filter(({ lengthSamples }) => lengthSamples >= CHAPTER_FROM).map(({ name, atSample }) => sound(name, atSample)) : [];
  const talkFrom = framed?.framing.talkFrom ?? 0;
  const inside = [...job.markers, ...played].filter(({ atSample }) => atSample >= from && atSample < to).map((marker) => ({ ...marker, atSample: marker.atSample - from + talkFrom }));
  const { opening, closing } = framed?.names ?? { opening: null, closing: null };
  const ends = params.soundChapters ? [...(opening === null ? [] : [sound(opening, 0)]), ...(closing === null || !framed ? [] : [sound(closing, framed.framing.talkTo)])] : [];
  return [...inside, ...ends].sort((a, b) => a.atSample - b.atSample);
}

/** The program as it was recorded, or from its tracks. @throws {Error} when the program was not recorded */
async function mixOf(job: ExportJob): Promise<SoundSource> {
  const { pool, row, lengthSamples, params } = job;
  const all = await listTracks(pool, row.id);
  if (params.from === 'program') {
    const program = all.find(({ kind }) => kind === 'program');
    if (!program) throw new RefusedTask('The program was not recorded with this take. Make the mix from its tracks instead.');
    return trackSource(createTrackReader(pool, program, lengthSamples), lengthSamples);
  }
  // A better version of a voice takes its place where the host chose it; else the line as it was received.
  const sources = all.filter(isSource);
  const used = sources.map((source) => job.tracks.find(({ derived_from, id }) => derived_from === source.id && params.tracks.includes(id)) ?? source);
  return remixSource({ tracks: sources, ...(await takeLog(pool, row.id)) }, used.map((track) => createTrackReader(pool, track, lengthSamples)), lengthSamples);
}
