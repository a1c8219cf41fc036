import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { simulateTake } from '@/core/practice/take-with-bleed';
import { CHUNK_FRAMES, chunkFrames } from '@/core/takes/chunks';
import { exportSchema, SOUND_FILES, type ExportParams, type Task } from '@/core/tasks/task';
import type { TakeCheck } from '@/core/checks/take-check';
import { takePlugsSchema } from '@/core/takes/plugs';
import { runTask } from '../jobs/run-task';
import { findTask, insertTask } from '../jobs/tasks';
import type { QuietenResult } from '../jobs/quieten-track';
import type { RepairResult } from '../jobs/repair-track';
import { createTrackReader } from '../jobs/track-reader';
import { pictureType, storeCover } from '../shows/cover';
import { beginTake } from '../takes/begin-take';
import { loadTake } from '../takes/load-take';
import { findTrack } from '../takes/queries';
import { storeMarker } from '../takes/markers';
import { keepPlugs } from '../takes/plugs';
import { receiveChunks } from '../takes/receive-chunks';
import { sealTake } from '../takes/seal-take';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { fileBytes, findFile, PIECE_BYTES } from './store-file';

const db = testDatabase();
const folder = mkdtempSync(join(tmpdir(), 'exports-'));
afterAll(() => rmSync(folder, { recursive: true }));

const SECONDS = 20;
const PEOPLE = ['maren', 'odalys', 'tomasz'];
const { tracks: sound } = simulateTake({ people: 3, seconds: SECONDS, seed: 9, bleed: [{ source: 0, target: 2, gainDb: -31, delayMs: 240 }], noiseDb: -75 });
let take = '';
let tracks: string[] = [];

beforeAll(async () => {
  const begun = await beginTake(db.pool(), await demoEpisode(db.pool()), PEOPLE.map((seat) => ({ kind: 'voice', recorded: `voice:${seat}`, name: `${seat} “the/first”`, channels: 1, format: 'pcm24' }) as const));
  ({ take, tracks } = begun);
  for (const [k, track] of tracks.entries()) {
    for (let index = 0; index * CHUNK_FRAMES < sound[k].length; index++) {
      const samples = encodeSamples('pcm24', [sound[k]], index * CHUNK_FRAMES, chunkFrames(sound[k].length, index));
      await receiveChunks(db.pool(), take, [{ track, index, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
    }
  }
  await sealTake(db.pool(), { take, lengthSamples: sound[0].length, clockAtStart: 0, clockAtCall: 0, gaps: [] });
  await storeMarker(db.pool(), take, { id: crypto.randomUUID(), atSample: 48_000, lengthSamples: 0, name: 'The chain, at last' });
  await storeMarker(db.pool(), take, { id: crypto.randomUUID(), atSample: 480_000, lengthSamples: 0, name: 'Fog' });
});

async function work(kind: 'check' | 'export' | 'repair' | 'quieten', params: Partial<ExportParams> & { track?: string } = {}, of = take) {
  const task: Task = kind === 'check' ? { kind, params: {} } : kind === 'repair' || kind === 'quieten' ? { kind, params: { track: params.track! } } : { kind, params: exportSchema.parse({ what: 'tracks', ...params }) };
  const id = await insertTask(db.pool(), of, task);
  await runTask(db.pool(), id, 'tester');
  return findTask(db.pool(), of, id);
}

/** Makes a file and puts it where other tools can open it. */
async function exported(params: Partial<ExportParams>, of = take): Promise<{ path: string; result: { measured?: { integratedLufs: number; truePeakDb: number } } }> {
  const task = await work('export', params, of);
  expect(task.problem).toBeNull();
  const parts: Uint8Array[] = [];
  for await (const part of fileBytes(db.pool(), task.id, 0, task.file!.bytes)) parts.push(part);
  const path = join(folder, task.file!.name);
  writeFileSync(path, Buffer.concat(parts));
  return { path, result: task.result as never };
}

const run = (program: string, ...words: string[]) => execFileSync(program, words, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
/** Raw 24-bit samples as another tool reads them. */
const rawOf = (path: string) => execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 's24le', '-'], { maxBuffer: 2 ** 28 });
const truth = (k: number) => Buffer.from(encodeSamples('pcm24', [sound[k]], 0, sound[k].length));

describe('a check', () => {
  it('measures every track and finds who is heard in whose', async () => {
    const { result, state } = await work('check');
    expect(state).toBe('done');
    const check = result as TakeCheck;
    expect(check.tracks.map(({ lengthSamples, storedSamples }) => [lengthSamples, storedSamples])).toEqual(PEOPLE.map(() => [sound[0].length, sound[0].length]));
    const bleeding = check.isolation.filter(({ verdict }) => verdict !== 'clean');
    expect(bleeding).toMatchObject([{ source: tracks[0], target: tracks[2], verdict: 'bleeds' }]);
    expect(Math.abs(bleeding[0].gainDb! + 31)).toBeLessThan(2);
    expect(Math.abs(bleeding[0].delayMs! - 240)).toBeLessThan(1);
  });
});

describe('a repair', () => {
  it('is a track of its own beside the one it came from, measured before and after', async () => {
    const { result, problem } = await work('repair', { track: tracks[2] });
    expect(problem).toBeNull();
    const { track, sources } = result as RepairResult;
    expect(sources).toMatchObject([{ source: tracks[0], beforeDb: expect.closeTo(-31, 0) }]);
    expect(sources[0].afterDb ?? -Infinity).toBeLessThan(-46);
    const { tracks: all } = await loadTake(db.pool(), take);
    expect(all).toHaveLength(4);
    expect(all[3]).toMatchObject({ id: track, kind: 'repaired', derivedFrom: tracks[2] });
  });

  it('of a track in which nobody else is heard is refused with the reason', async () => {
    expect(await work('repair', { track: tracks[0] })).toMatchObject({ state: 'failed', problem: expect.stringContaining('Nobody else was found') });
  });
});

describe('exports opened by other tools', () => {
  it('a track as broadcast WAV: its samples, its time, its cue points', async () => {
    const { path } = await exported({ what: 'track', tracks: [tracks[0]] });
    expect(rawOf(path).equals(truth(0))).toBe(true);
    const info = `${run('sndfile-info', path)}${run('sndfile-metadata-get', '--all', path)}${run('ffprobe', '-v', 'error', '-show_format', path)}`;
    expect(info).toMatch(/Originator\s+: Brisk Lantern/);
    expect(info).toMatch(/time_reference=[1-9]\d*/);
    expect(info).toMatch(/Loudness value\s+: -\d+\.\d\d/);
    expect(info).toMatch(/Cue ID :\s+2\s+Pos : 480000/);
    expect(info).toContain('The chain, at last');
    expect(path).toMatch(/Ferry-Weather_E14_\d{4}-\d\d-\d\d_take-\d+_01_maren-the-first_voice\.wav$/);
  });

  it('a track as FLAC passes its own test and is the same to the sample', async () => {
    const { path } = await exported({ what: 'track', tracks: [tracks[1]], file: 'flac' });
    run('flac', '-t', '-s', '-w', path);
    expect(rawOf(path).equals(truth(1))).toBe(true);
  });

  it.each(SOUND_FILES)('a mix as %s lands on the show’s loudness under its ceiling, as another meter reads it', async (file) => {
    const { path, result } = await exported({ what: 'mix', file });
    const said = execFileSync('sh', ['-c', `ffmpeg -hide_banner -nostats -i '${path}' -af ebur128=peak=true -f null - 2>&1`], { encoding: 'utf8' });
    const summary = said.slice(said.lastIndexOf('Summary:'));
    const lufs = Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)![1]);
    const peak = Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)![1]);
    expect(Math.abs(lufs + 16)).toBeLessThanOrEqual(0.2);
    // Coding by the ear moves peaks a little.
    expect(peak).toBeLessThanOrEqual(file === 'wav' || file === 'flac' ? -1 : 0);
    expect(Math.abs(result.measured!.integratedLufs - lufs)).toBeLessThan(0.1);
  });

  it('a mix as MP3 has its tags, chapters and cover, as Opus its exact length', async () => {
    const picture = join(folder, 'cover.jpg');
    run('ffmpeg', '-v', 'error', '-f', 'lavfi', '-i', 'color=c=orange:s=48x48', '-frames:v', '1', picture);
    const bytes = readFileSync(picture);
    expect(() => pictureType(Buffer.from('<svg/>'))).toThrow(/neither/);
    const { rows } = await db.pool().query<{ id: string }>('select show_id as id from episode join take on episode_id = episode.id where take.id = $1', [take]);
    await storeCover(db.pool(), rows[0].id, { bytes, mediaType: pictureType(bytes) });
    const { path } = await exported({ what: 'mix', file: 'mp3', normalise: false, rate: 44100 });
    const { chapters, format } = JSON.parse(run('ffprobe', '-v', 'error', '-show_chapters', '-show_format', '-of', 'json', path));
    expect(chapters.map(({ tags, start_time }: { tags: { title: string }; start_time: string }) => [tags.title, Number(start_time)])).toEqual([['The chain, at last', 1], ['Fog', 10]]);
    expect(run('ffprobe', '-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=codec_name,width,height', '-of', 'csv=p=0', path).trim()).toBe('mjpeg,48,48');
    expect(format.tags).toMatchObject({ title: 'The last chain ferry', album: 'Ferry Weather' });
    expect(Math.abs(Number(format.duration) - SECONDS)).toBeLessThan(0.1);
    const opus = (await exported({ what: 'mix', file: 'opus', normalise: false })).path;
    const said = run('opusinfo', opus);
    expect(said).toMatch(/Pre-skip: 312/);
    expect(said).not.toMatch(/WARNING|ERROR/i);
    expect(Math.abs(Number(run('ffprobe', '-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', opus)) - SECONDS)).toBeLessThan(0.03);
  });

  it('a mix without the silence at its ends is the same mix in between, its chapters where they belong', async () => {
    const [from, to] = [2 * CHUNK_FRAMES, 4 * CHUNK_FRAMES];
    const quiet = Float32Array.from({ length: 7 * CHUNK_FRAMES }, (_, i) => (i >= from && i < to ? sound[0][i - from + 48_000] : 0));
    const begun = await beginTake(db.pool(), await demoEpisode(db.pool()), [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    for (let index = 0; index < 7; index++) {
      const samples = encodeSamples('pcm24', [quiet], index * CHUNK_FRAMES, CHUNK_FRAMES);
      await receiveChunks(db.pool(), begun.take, [{ track: begun.tracks[0], index, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
    }
    await sealTake(db.pool(), { take: begun.take, lengthSamples: quiet.length, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await storeMarker(db.pool(), begun.take, { id: crypto.randomUUID(), atSample: from + 48_000, lengthSamples: 0, name: 'Fog' });
    const whole = rawOf((await exported({ what: 'mix', normalise: false }, begun.take)).path);
    const { path } = await exported({ what: 'mix', normalise: false, cutEnds: true }, begun.take);
    const cut = rawOf(path);
    const frame = 6;
    const isHeard = (bytes: Buffer, k: number): boolean => Math.abs(bytes.readIntLE(k * frame, 3)) > 2 ** 23 * 0.01;
    const places = (bytes: Buffer): number[] => Array.from({ length: bytes.length / frame }, (_, k) => k).filter((k) => isHeard(bytes, k));
    const [inWhole, inCut] = [places(whole), places(cut)];
    expect(inCut[0]).toBeLessThan(24_000);
    expect(cut.length / frame).toBeLessThan(to - from + 2 * 48_000);
    expect(inCut.length).toBe(inWhole.length);
    const moved = inWhole[0] - inCut[0];
    const [first, end] = [inCut[0], inCut.at(-1)! + 1];
    expect(cut.subarray(frame * first, frame * end).equals(whole.subarray(frame * (first + moved), frame * (end + moved)))).toBe(true);
    expect(run('sndfile-metadata-get', '--all', path) + run('sndfile-info', path)).toMatch(new RegExp(`Pos : ${from + 48_000 - moved}`));
  });

  it('a mix begins and ends with the show’s sounds, with chapters for them, and holds the talk unchanged between', async () => {
    const talk = rawOf((await exported({ what: 'mix', normalise: false })).path);
    const { rows } = await db.pool().query<{ id: string; length: string }>(`select id, length_samples as length from sound where name = 'Opening theme'`);
    const [{ id: theme, length }] = rows;
    const { path } = await exported({ what: 'mix', normalise: false, opening: { sound: theme, way: 'alone' }, closing: { sound: theme, way: 'under' }, soundChapters: true });
    const framed = rawOf(path);
    const [talkFrom, bytes] = [Number(length), 6];
    // Until the closing comes in under its end the talk is the same to the bit.
    const same = (SECONDS - 11) * 48_000;
    expect(framed.subarray(bytes * talkFrom, bytes * (talkFrom + same)).equals(talk.subarray(0, bytes * same))).toBe(true);
    expect(framed.subarray(0, bytes * talkFrom).some((byte) => byte !== 0)).toBe(true);
    const said = run('sndfile-metadata-get', '--all', path) + run('sndfile-info', path);
    for (const at of [0, talkFrom + 48_000, talkFrom + SECONDS * 48_000]) expect(said).toMatch(new RegExp(`Pos :\\s+${at}\\b`));
    // Heard before the file is made: its first and its last ten seconds.
    const both = rawOf((await exported({ what: 'mix', file: 'mp3', normalise: false, opening: { sound: theme, way: 'alone' }, closing: { sound: theme, way: 'under' }, ends: true })).path);
    const end = 10 * 48_000 * bytes;
    expect(both.length).toBe(2 * end);
    expect(both.subarray(0, end).equals(framed.subarray(0, end))).toBe(true);
    expect(both.subarray(end).equals(framed.subarray(framed.length - end))).toBe(true);
    // A take of twenty seconds is all ends: at the loudness its file will have, to the bit.
    expect(rawOf((await exported({ what: 'mix', ends: true })).path).equals(rawOf((await exported({ what: 'mix' })).path))).toBe(true);
    const gone = await work('export', { what: 'mix', opening: { sound: crypto.randomUUID(), way: 'alone' } });
    expect(gone).toMatchObject({ state: 'failed', problem: expect.stringContaining('not in the library any more') });
  });

  it('all tracks in one ZIP with manifest, checksums, markers and timeline', async () => {
    const plugged = { atSample: 0, inputs: [{ source: 'voice:maren', device: 'Desk microphone', channels: 'left' }], outlets: [{ listener: 'program', device: 'Hall', channels: 'stereo', offsetMs: 240 }] } as const;
    await keepPlugs(db.pool(), take, takePlugsSchema.parse({ ...plugged, outlets: [] }));
    await keepPlugs(db.pool(), take, takePlugsSchema.parse(plugged));
    await db.pool().query(`with shown as (insert into broadcast (id, episode_id, settings) select gen_random_uuid(), episode_id, '{}' from take where id = $1 returning id)
      insert into air_title (broadcast_id, text, said_by, session, sample, sent_at) select id, 'Fog, on the air', 'typed', 1, 0, (select started_at + interval '3 s' from take where id = $1) from shown`, [take]);
    const { path } = await exported({ what: 'tracks', tracks: tracks.slice(1), file: 'flac' });
    run('unzip', '-tq', path);
    const out = join(folder, 'unzipped');
    run('unzip', '-q', path, '-d', out);
    execFileSync('sha256sum', ['-c', '--quiet', 'checksums.sha256'], { cwd: out });
    const manifest = JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8'));
    expect(manifest).toMatchObject({ show: 'Ferry Weather', sampleRate: 48000, lengthSamples: SECONDS * 48000, markers: [{ name: 'The chain, at last' }, { name: 'Fog' }], devices: [plugged] });
    for (const { file } of manifest.files) expect(Number(run('ffprobe', '-v', 'error', '-show_entries', 'stream=duration_ts', '-of', 'csv=p=0', join(out, file)))).toBe(SECONDS * 48000);
    const [timeline] = run('sh', '-c', `cat '${out}'/*.otio`).match(/[^]*/)!;
    expect(JSON.parse(timeline).tracks.children).toHaveLength(2);
    expect(readFileSync(join(out, 'titles-on-the-air.csv'), 'utf8')).toContain('"Fog, on the air",typed');
    expect(readFileSync(join(out, 'markers.vtt'), 'utf8')).toContain('00:00:10.000');
    expect(JSON.parse(readFileSync(join(out, 'chapters.json'), 'utf8')).chapters[1]).toEqual({ startTime: 10, title: 'Fog' });
  });

  it('tracks whose long names are the same are files of their own, each short enough for any disk', async () => {
    const name = `${'Ørnulf-Åse '.repeat(5)}née`.slice(0, 60);
    const begun = await beginTake(db.pool(), await demoEpisode(db.pool()), [1, 2].map((k) => ({ kind: 'voice', recorded: `voice:same-${k}`, name, channels: 1, format: 'pcm24' }) as const));
    for (const track of begun.tracks) {
      const samples = encodeSamples('pcm24', [sound[0]], 0, CHUNK_FRAMES);
      await receiveChunks(db.pool(), begun.take, [{ track, index: 0, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
    }
    await sealTake(db.pool(), { take: begun.take, lengthSamples: CHUNK_FRAMES, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await db.pool().query('update take set name = $2 where id = $1', [begun.take, 'w'.repeat(80)]);
    const id = await insertTask(db.pool(), begun.take, { kind: 'export', params: exportSchema.parse({ what: 'tracks' }) });
    await runTask(db.pool(), id, 'tester');
    const made = await findTask(db.pool(), begun.take, id);
    const parts: Uint8Array[] = [];
    for await (const part of fileBytes(db.pool(), id, 0, made.file!.bytes)) parts.push(part);
    const path = join(folder, 'same.zip');
    writeFileSync(path, Buffer.concat(parts));
    const out = join(folder, 'same');
    run('unzip', '-q', path, '-d', out);
    execFileSync('sha256sum', ['-c', '--quiet', 'checksums.sha256'], { cwd: out });
    const files = (JSON.parse(readFileSync(join(out, 'manifest.json'), 'utf8')) as { files: { file: string }[] }).files.map(({ file }) => file);
    expect(new Set(files.map((file) => file.toLowerCase())).size).toBe(2);
    for (const file of files) expect(Buffer.byteLength(file)).toBeLessThanOrEqual(255);
    expect(readdirSync(out)).toEqual(expect.arrayContaining(files));
  });

  it('is given out again from any byte', async () => {
    const task = await work('export', { what: 'track', tracks: [tracks[2]] });
    const { bytes } = await findFile(db.pool(), take, task.id);
    const from = Math.min(bytes - 100, PIECE_BYTES - 50);
    const parts: Uint8Array[] = [];
    for await (const part of fileBytes(db.pool(), task.id, from, from + 80)) parts.push(part);
    expect(Buffer.concat(parts)).toHaveLength(80);
  });

  it('says what is missing instead of making something else', async () => {
    const task = await work('export', { what: 'mix', from: 'program' });
    expect(task).toMatchObject({ state: 'failed', file: null, problem: expect.stringContaining('The program was not recorded') });
  });
});

describe('a task', () => {
  it('is taken by one worker, and by another when that falls silent', async () => {
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    await db.pool().query(`update task set state = 'running', worker = 'gone', heard_at = now() - interval '1 minute' where id = $1`, [id]);
    await Promise.all([runTask(db.pool(), id, 'first'), runTask(db.pool(), id, 'second')]);
    const { rows } = await db.pool().query<{ state: string; worker: string }>('select state, worker from task where id = $1', [id]);
    expect(rows[0].state).toBe('done');
    expect(['first', 'second']).toContain(rows[0].worker);
  });
});

describe('a track without noise', () => {
  it('is made beside the one it came from, as long and in step, with quieter pauses', async () => {
    const { result, problem } = await work('quieten', { track: tracks[1] });
    expect(problem).toBeNull();
    const { track } = result as QuietenResult;
    const { tracks: all } = await loadTake(db.pool(), take);
    expect(all.find(({ id }) => id === track)).toMatchObject({ kind: 'quietened', derivedFrom: tracks[1] });
    const reader = createTrackReader(db.pool(), await findTrack(db.pool(), take, track), sound[1].length);
    const [whole, before] = [await reader.mono(0, sound[1].length), sound[1]];
    const likeness = (lag: number) => before.subarray(2000, 900_000).reduce((sum, x, i) => sum + x * whole[2000 + i + lag], 0);
    const lags = Array.from({ length: 41 }, (_, k) => k - 20);
    expect(Math.abs(lags.reduce((best, lag) => (likeness(lag) > likeness(best) ? lag : best), 0))).toBeLessThan(4);
    const seconds = Array.from({ length: SECONDS }, (_, k) => k * 48_000);
    const levelDb = (samples: Float32Array, at: number) => 10 * Math.log10(samples.subarray(at, at + 48_000).reduce((sum, x) => sum + x * x, 0) / 48_000 + 1e-12);
    const quiet = seconds.filter((at) => levelDb(before, at) < -70);
    expect(quiet.length).toBeGreaterThan(0);
    for (const at of quiet) expect(levelDb(whole, at) - levelDb(before, at)).toBeLessThan(-6);
  });
});
