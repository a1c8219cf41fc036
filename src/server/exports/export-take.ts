import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import type { TakeCheck } from '@/core/checks/take-check';
import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import { asOpenTimeline } from '@/core/formats/timeline';
import { hearingPlanSchema } from '@/core/hearing/plan-schema';
import { markersAsChapters } from '@/core/takes/chapters';
import { markersAsVtt } from '@/core/takes/markers';
import type { ExportParams } from '@/core/tasks/task';
import { RefusedTask } from '../jobs/refused';
import type { Work } from '../jobs/run-task';
import { newestCheck } from '../jobs/tasks';
import { createTrackReader } from '../jobs/track-reader';
import { takeConsents } from '../seats/queries';
import { findRecordingSettings } from '../shows/recording-settings';
import { listMarkers, markersAsCsv } from '../takes/markers';
import { listPlays } from '../takes/plays';
import { findTake, findTakePlan, listGaps, listPlanChanges, listTracks, type TakeRow, type TrackRow } from '../takes/queries';
import { createFileSink } from './file-sink';
import { measure, normalised, remixSource, trackSource, type Measured } from './mix-source';
import { namingOf, type TakeNaming } from './naming';
import { atRate, type SoundSource } from './sound-source';
import { storeFile } from './store-file';
import { writeFlac } from './write-flac';
import { writeMp3 } from './write-mp3';
import { writeOpus } from './write-opus';
import { writeWav } from './write-wav';

const RATE = 48000;
const MEDIA_TYPES = { wav: 'audio/wav', flac: 'audio/flac', mp3: 'audio/mpeg', opus: 'audio/ogg', zip: 'application/zip' };
/** Where what the remix and the ZIP take from is not a mix itself. */
const SOURCE_KINDS = ['voice', 'sounds', 'share'];
const STORING_SHARE = 0.15;

interface Export extends Work {
  params: ExportParams;
  row: TakeRow;
  lengthSamples: number;
  naming: TakeNaming;
  tracks: TrackRow[];
  check: TakeCheck | null;
  markers: Awaited<ReturnType<typeof listMarkers>>;
  folder: string;
}

/** What came of an export. */
export interface ExportResult {
  name: string;
  bytes: number;
  /** Of a mix, as it was measured before it was encoded. */
  measured?: { integratedLufs: number | null; truePeakDb: number | null; gainDb: number };
}

/** Makes the file a host asked for and keeps it for downloading. */
export async function exportTake(work: Work, params: ExportParams): Promise<ExportResult> {
  const { pool, take: id } = work;
  const row = await findTake(pool, id);
  if (row.length_samples === null) throw new RefusedTask('This take is still open. Stop it first.');
  const all = await listTracks(pool, id);
  const wanted = params.tracks.length > 0 ? all.filter((track) => params.tracks.includes(track.id)) : all;
  const folder = await mkdtemp(join(tmpdir(), 'brisk-lantern-'));
  try {
    const job: Export = {
      ...work,
      params,
      row,
      lengthSamples: row.length_samples,
      naming: await namingOf(pool, row),
      tracks: wanted,
      check: (await newestCheck(pool, id)) as TakeCheck | null,
      markers: await listMarkers(pool, id),
      folder,
    };
    const made = params.what === 'mix' ? await mixFile(job) : params.what === 'track' ? await oneTrack(job) : await packageFile(job);
    const bytes = await storeFile(pool, work.task, made.path, made.name, made.mediaType, (share) => work.progress(1 - STORING_SHARE + STORING_SHARE * share));
    return { name: made.name, bytes, ...(made.measured ? { measured: made.measured } : {}) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

interface Made {
  path: string;
  name: string;
  mediaType: string;
  measured?: ExportResult['measured'];
}

async function oneTrack(job: Export): Promise<Made> {
  const [track] = job.tracks;
  if (!track) throw new RefusedTask('This track is gone.');
  const file = await writeTrack(job, track, (share) => job.progress((1 - STORING_SHARE) * share));
  return { ...file, mediaType: MEDIA_TYPES[job.params.file] };
}

async function writeTrack(job: Export, track: TrackRow, onProgress: (share: number) => Promise<void>): Promise<{ path: string; name: string }> {
  const name = `${job.naming.track(track)}.${job.params.file}`;
  const path = join(job.folder, name);
  const source = watched(atRate(trackSource(createTrackReader(job.pool, track, job.lengthSamples), job.lengthSamples), job.params.rate), onProgress);
  await writeSound(job, path, source, track.format, track.name, factsOf(job, track));
  return { path, name };
}

async function mixFile(job: Export): Promise<Made> {
  const { params, pool, naming } = job;
  const settings = await findRecordingSettings(pool, naming.showId);
  const raw = await mixOf(job);
  const encodingFrom = params.normalise ? 0.6 : 0.2;
  let source = raw;
  let measured: Measured;
  let gainDb = 0;
  if (params.normalise) {
    ({ source, measured, gainDb } = await normalised(raw, settings.targetLufs, settings.ceilingDb, (share) => job.progress(encodingFrom * share)));
  } else measured = await measure(raw, (share) => job.progress(encodingFrom * share));
  const name = `${naming.take}_mix.${params.file}`;
  const path = join(job.folder, name);
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  const loudness = {
    integratedLufs: finite(measured.integrated),
    rangeLu: measured.range,
    truePeakDb: finite(measured.truePeakDb),
    momentaryMaxLufs: finite(measured.momentaryMax),
    shortTermMaxLufs: finite(measured.shortTermMax),
  };
  const facts = { ...broadcastFacts(job, `${naming.show}: ${naming.episodeTitle}, mix`), loudness };
  await writeSound(job, path, watched(atRate(source, params.rate), (share) => job.progress(encodingFrom + (1 - STORING_SHARE - encodingFrom) * share)), 'pcm24', naming.show, facts);
  return { path, name, mediaType: MEDIA_TYPES[params.file], measured: { integratedLufs: loudness.integratedLufs, truePeakDb: loudness.truePeakDb, gainDb } };
}

/** The program as it was recorded, or from its tracks. @throws {Error} when the program was not recorded */
async function mixOf(job: Export): Promise<SoundSource> {
  const { pool, row, lengthSamples, params } = job;
  const all = await listTracks(pool, row.id);
  if (params.from === 'program') {
    const program = all.find(({ kind }) => kind === 'program');
    if (!program) throw new RefusedTask('The program was not recorded with this take. Make the mix from its tracks instead.');
    return trackSource(createTrackReader(pool, program, lengthSamples), lengthSamples);
  }
  // A better version of a voice takes its place where the host chose it; else the line as it was received.
  const sources = all.filter(({ kind, derived_from }) => SOURCE_KINDS.includes(kind) && derived_from === null);
  const used = sources.map((source) => job.tracks.find(({ derived_from, id }) => derived_from === source.id && params.tracks.includes(id)) ?? source);
  const plan = await findTakePlan(pool, row.id);
  const planChanges = await listPlanChanges(pool, row.id);
  return remixSource({ tracks: sources, plan, planChanges }, used.map((track) => createTrackReader(pool, track, lengthSamples)), lengthSamples);
}

async function writeSound(job: Export, path: string, source: SoundSource, format: TrackRow['format'], title: string, facts: BroadcastFacts): Promise<void> {
  const sink = await createFileSink(path);
  const { naming, markers, lengthSamples } = job;
  try {
    switch (job.params.file) {
      case 'wav':
        await writeWav(sink, source, format, facts);
        break;
      case 'flac':
        await writeFlac(sink, source, format === 'pcm16' ? 16 : 24);
        break;
      case 'mp3':
        await writeMp3(sink, source, {
          title: naming.episodeTitle,
          artist: title,
          album: naming.show,
          year: String(job.row.started_at.getUTCFullYear()),
          chapters: markers.map(({ name, atSample }, k) => ({ title: name, startMs: Math.round(atSample / 48), endMs: Math.round((markers[k + 1]?.atSample ?? lengthSamples) / 48) })),
          cover: null,
        });
        break;
      case 'opus':
        await writeOpus(sink, source, { title: naming.episodeTitle, artist: title });
        break;
    }
  } finally {
    await sink.close();
  }
}

/** All tracks with their papers, in one ZIP. */
async function packageFile(job: Export): Promise<Made> {
  const { naming, tracks, params, folder } = job;
  const zip = new ZipFile();
  const files: { file: string; track: string; person: string; kind: string; channels: number; bytes: number; sha256: string }[] = [];
  for (const [k, track] of tracks.entries()) {
    const { path, name } = await writeTrack(job, track, (share) => job.progress((0.8 * (1 - STORING_SHARE) * (k + share)) / tracks.length));
    const { size } = await stat(path);
    files.push({ file: name, track: track.id, person: track.name, kind: track.kind, channels: track.channels, bytes: size, sha256: await sha256(path) });
    zip.addFile(path, name, { compress: false, mtime: job.row.started_at });
  }
  for (const [name, text] of Object.entries(await papers(job, files))) zip.addBuffer(Buffer.from(text), name, { mtime: job.row.started_at });
  zip.end();
  const name = `${naming.take}_${params.file}.zip`;
  const path = join(folder, 'package.zip');
  await pipeline(zip.outputStream as Readable, createWriteStream(path));
  return { path, name, mediaType: MEDIA_TYPES.zip };
}

/** What lies beside the sound: what it is, who and when, what was measured, what was marked. */
async function papers(job: Export, files: { file: string; track: string; person: string; sha256: string }[]): Promise<Record<string, string>> {
  const { pool, row, naming, markers, lengthSamples, params, check, tracks } = job;
  const rated = (samples: number) => Math.round((samples * params.rate) / RATE);
  const manifest = {
    madeBy: 'Brisk Lantern',
    show: naming.show,
    episode: naming.episodeTitle,
    take: row.number,
    name: row.name,
    note: row.note,
    startedAt: row.started_at.toISOString(),
    sampleRate: params.rate,
    lengthSamples: rated(lengthSamples),
    files,
    people: (await takeConsents(pool, row.id)).map(({ name, wording, agreedAt }) => ({ name, consent: wording, agreedAt: agreedAt.toISOString() })),
    gaps: (await listGaps(pool, row.id)).map((gap) => ({ ...gap, file: files.find(({ track }) => track === gap.track)?.file ?? null })),
    plays: await listPlays(pool, row.id),
    markers,
    plan: await findTakePlan(pool, row.id),
    planChanges: (await listPlanChanges(pool, row.id)).map(({ atSample, plan }) => ({ atSample, plan: hearingPlanSchema.parse(plan) })),
    check,
  };
  const timeline = asOpenTimeline(
    naming.take,
    params.rate,
    files.map(({ file, track }) => ({ name: tracks.find(({ id }) => id === track)?.name ?? file, file, lengthSamples: rated(lengthSamples) })),
    markers.map((marker) => ({ name: marker.name, atSample: rated(marker.atSample), lengthSamples: rated(marker.lengthSamples) })),
  );
  return {
    'manifest.json': JSON.stringify(manifest, null, 2),
    [`${naming.take}.otio`]: JSON.stringify(timeline, null, 2),
    'markers.csv': markersAsCsv(markers),
    'markers.vtt': markersAsVtt(markers),
    'chapters.json': JSON.stringify(markersAsChapters(markers, naming.episodeTitle), null, 2),
    'checksums.sha256': files.map((one) => `${one.sha256}  ${one.file}\n`).join(''),
  };
}

function factsOf(job: Export, track: TrackRow): BroadcastFacts {
  const measured = job.check?.tracks.find((one) => one.track === track.id);
  const facts = broadcastFacts(job, `${job.naming.show}: ${job.naming.episodeTitle}, ${track.name}, ${track.kind}`);
  return measured ? { ...facts, loudness: { integratedLufs: measured.integratedLufs, rangeLu: measured.rangeLu, truePeakDb: measured.truePeakDb, momentaryMaxLufs: measured.momentaryMaxLufs, shortTermMaxLufs: measured.shortTermMaxLufs } } : facts;
}

function broadcastFacts({ row, naming, markers, params }: Export, description: string): BroadcastFacts {
  const midnight = Date.UTC(row.started_at.getUTCFullYear(), row.started_at.getUTCMonth(), row.started_at.getUTCDate());
  return {
    description,
    originator: 'Brisk Lantern',
    originatorReference: naming.take.slice(-32),
    recordedAt: row.started_at,
    timeReference: Math.round(((row.started_at.getTime() - midnight) / 1000) * params.rate),
    loudness: { integratedLufs: null, rangeLu: null, truePeakDb: null, momentaryMaxLufs: null, shortTermMaxLufs: null },
    codingHistory: `A=PCM,F=${params.rate},T=Brisk Lantern\r\n`,
    cues: markers.map(({ atSample, name }) => ({ atSample: Math.round((atSample * params.rate) / RATE), name })),
  };
}

function watched(source: SoundSource, onProgress: (share: number) => Promise<void>): SoundSource {
  return {
    ...source,
    async *pieces() {
      let done = 0;
      for await (const piece of source.pieces()) {
        yield piece;
        done += piece[0].length;
        await onProgress(Math.min(1, done / source.frames));
      }
    },
  };
}

async function sha256(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const bytes of createReadStream(path) as AsyncIterable<Buffer>) hash.update(bytes);
  return hash.digest('hex');
}
