// Measures what a take costs: taking it in, checking it, and making files of it:
//   npm run --silent bench-takes -- 60 4             (minutes, tracks)
//   npm run --silent bench-takes -- 21 24 zip        only the ZIP, of tracks that are silent to their last two seconds
//   npm run --silent bench-takes -- 4 4 judge        no server; fails when something is twice as slow as it was, beside the usual programs
// Prints one JSON object. It has a database of its own; the product's build is needed for the server that takes chunks in.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { joinBytes } from '../src/core/formats/join-bytes';
import { encodeSamples } from '../src/core/formats/wav/sample-format';
import { simulateTake } from '../src/core/practice/take-with-bleed';
import { CHUNK_FRAMES } from '../src/core/takes/chunks';
import { PARCEL_HEADER, type ParcelEntry } from '../src/core/takes/parcel';
import { summarise } from '../src/core/takes/peaks';
import { exportSchema, type Task } from '../src/core/tasks/task';
import { connect } from '../src/server/database';
import { trackPackage } from '../src/server/exports/track-package';
import { runTask } from '../src/server/jobs/run-task';
import { findTask, insertTask } from '../src/server/jobs/tasks';
import { beginTake } from '../src/server/takes/begin-take';
import { insertChunk } from '../src/server/takes/chunk-store';
import { sealTake } from '../src/server/takes/seal-take';
import { withBenchDatabase, withServer } from './bench-server';

/** A task of a worker, or the ZIP that is made while it is downloaded. */
type Step = Task | 'package';

/** Voices of the demo's plan, so that a mix finds them in it; more people than it has are on tracks alone. */
const IN_PLAN = ['maren', 'odalys', 'tomasz', 'priya'];
const CHUNK_SECONDS = CHUNK_FRAMES / 48000;
/** Seconds of conversation that are said over and over; long enough that no window sees the same twice. */
const CONVERSATION_SECONDS = 120;
const INGEST_SECONDS = 20;
const AT_ONCE = 4;
/** How often it is looked whether a check has something to show, ms. */
const LOOK_EVERY_MS = 50;
const AFTER_STOP = 'check, the tracks measured while they were recorded';
/** A voice in 24 bits. */
const TRACK_BYTES_A_SECOND = 144_000;

/** What is made here, the usual program beside it, and the least it may reach of that: about half of the lowest of six runs of 28 November 2026, for FLAC of the 30th. */
const FLOORS = [
  ['check', 'timesRealTime', 'ffmpeg, loudness and true peak of each', 0.15],
  ['tracks as WAV in a ZIP', 'megabytesPerSecond', 'zip -0, MB/s', 0.1],
  ['tracks as FLAC in a ZIP', 'timesRealTime', 'flac -5, one track after another', 0.17],
  ['mix as MP3 at the show’s loudness', 'timesRealTime', 'ffmpeg, the tracks mixed as MP3', 0.09],
] as const;

const [first = '60', second = '4', third = '', url = ''] = process.argv.slice(2);
if (first === 'step') await step(second, third, JSON.parse(url) as Step);
else await measure(Number(first), Number(second), third);

/** One piece of work in a process of its own, so that its memory is its own. */
async function step(database: string, take: string, task: Step): Promise<void> {
  const pool = connect(database);
  const before = process.resourceUsage().maxRSS;
  const began = performance.now();
  const memory = () => ({ seconds: (performance.now() - began) / 1000, peakMemoryMb: Math.round(process.resourceUsage().maxRSS / 1024), emptyMemoryMb: Math.round(before / 1024) });
  if (task === 'package') {
    const { bytes, pieces } = await trackPackage(pool, take);
    let came = 0;
    for await (const piece of pieces(0, bytes)) came += piece.length;
    console.log(JSON.stringify({ task: '', ...memory(), bytes: came }));
    return pool.end();
  }
  const id = await insertTask(pool, take, task);
  let firstLookSeconds: number | null = null;
  const looking = setInterval(() => {
    void findTask(pool, take, id).then(({ state, result }) => {
      if (state === 'running' && result !== null) firstLookSeconds ??= round((performance.now() - began) / 1000);
    });
  }, LOOK_EVERY_MS);
  await runTask(pool, id, 'bench');
  clearInterval(looking);
  const { state, problem, file } = await findTask(pool, take, id);
  if (state !== 'done') throw new Error(problem ?? state);
  console.log(JSON.stringify({ task: id, ...memory(), bytes: file?.bytes ?? 0, firstLookSeconds }));
  await pool.end();
}

interface StepResult {
  task: string;
  seconds: number;
  peakMemoryMb: number;
  emptyMemoryMb: number;
  bytes: number;
  /** Until a check showed who is heard in whose track, roughly; null where nothing was shown before the end. */
  firstLookSeconds?: number | null;
}

async function measure(minutes: number, tracks: number, how: string): Promise<void> {
  const onlyZip = how === 'zip';
  if (!(minutes >= 1) || !(tracks >= 1 && tracks <= 24)) {
    console.error('Say how many minutes (1 or more) and how many tracks (1 to 24): npm run bench-takes -- 60 4');
    process.exit(1);
  }
  const folder = await mkdtemp(join(tmpdir(), 'bench-'));
  await withBenchDatabase(async (database) => {
    const ingest = how === '' ? await measureIngest(database) : null;
    console.error(JSON.stringify({ ingest }));
    const take = await makeTake(database, minutes, tracks, onlyZip);
    const seconds = minutes * 60;
    const results: Record<string, object> = {};
    const steps: Record<string, Step> = {
      check: { kind: 'check', params: {} },
      // As after Stop: each track by itself is measured by then.
      [AFTER_STOP]: { kind: 'check', params: {} },
      'tracks as WAV in a ZIP': 'package',
      'tracks as FLAC in a ZIP': { kind: 'export', params: exportSchema.parse({ what: 'tracks', file: 'flac' }) },
      'mix as MP3 at the show’s loudness': { kind: 'export', params: exportSchema.parse({ what: 'mix', file: 'mp3' }) },
    };
    for (const [words, task] of Object.entries(steps).filter(([words]) => !onlyZip || words.endsWith('WAV in a ZIP'))) {
      const done = await child(database, take, task);
      results[words] = { timesRealTime: round(seconds / done.seconds), peakMemoryMb: done.peakMemoryMb, emptyMemoryMb: done.emptyMemoryMb, ...(done.firstLookSeconds && { firstLookSeconds: done.firstLookSeconds }), ...(done.bytes > 0 ? { megabytes: Math.round(done.bytes / 1e6), megabytesPerSecond: round(done.bytes / 1e6 / done.seconds) } : {}) };
      console.error(JSON.stringify({ [words]: results[words] }));
      if (words.endsWith('WAV in a ZIP')) results['that ZIP, tested by unzip'] = { verdict: await unzipTest(database, folder, take) };
    }
    const usual = onlyZip ? null : await usualPrograms(database, folder, take, seconds);
    console.log(JSON.stringify({ minutes, tracks, ingest, ...results, ...(usual && { 'the usual programs': usual }) }));
    if (how === 'judge' && usual) judge(results, usual);
  }).finally(() => rm(folder, { recursive: true, force: true }));
}

/** Fails the process where something is slower beside the usual programs than it may be. */
function judge(results: Record<string, object>, usual: Record<string, number | null>): void {
  for (const [what, figure, beside, floor] of FLOORS) {
    const other = usual[beside];
    if (other === null) continue;
    const ratio = (results[what] as Record<string, number>)[figure] / other;
    console.error(`${ratio >= floor ? 'fast enough' : 'TOO SLOW'}: ${what}, ${ratio.toFixed(2)} of “${beside}”, at least ${floor}`);
    if (ratio < floor) process.exitCode = 1;
  }
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}

function child(database: string, take: string, task: Step): Promise<StepResult> {
  return new Promise((resolve, reject) => {
    const process_ = spawn(process.execPath, ['--import', 'tsx', 'scripts/bench-takes.ts', 'step', database, take, JSON.stringify(task)], { stdio: ['ignore', 'pipe', 'inherit'] });
    let out = '';
    process_.stdout.on('data', (text: Buffer) => (out += text.toString()));
    process_.once('exit', (code) => (code === 0 ? resolve(JSON.parse(out) as StepResult) : reject(new Error('A step failed.'))));
  });
}

/** Parcels of eight tracks’ chunks sent to one instance of the product, as a desk sends them. */
function measureIngest(database: string) {
  return withServer(database, async (address) => {
    const pool = connect(database);
    const { rows } = await pool.query<{ id: string }>('select id from episode limit 1');
    const { take, tracks } = await beginTake(pool, rows[0].id, trackList(8));
    const samples = encodeSamples('pcm24', [simulateTake({ people: 1, seconds: CHUNK_SECONDS, seed: 1, bleed: [], noiseDb: -60 }).tracks[0]], 0, CHUNK_FRAMES);
    const sha256 = createHash('sha256').update(samples).digest('hex');
    const body = joinBytes(tracks.map(() => samples));
    let sent = 0;
    const began = performance.now();
    const ends = began + INGEST_SECONDS * 1000;
    const latencies: number[] = [];
    const send = async (): Promise<void> => {
      while (performance.now() < ends) {
        const number = sent++;
        const asked = performance.now();
        const said = tracks.map((track): ParcelEntry => ({ track, index: number, sha256, bytes: samples.length }));
        const response = await fetch(`${address}/api/takes/${take}/chunks`, { method: 'PUT', headers: { [PARCEL_HEADER]: JSON.stringify(said), origin: address, host: new URL(address).host }, body });
        if (!response.ok) throw new Error(await response.text());
        latencies.push(performance.now() - asked);
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, send));
    const seconds = (performance.now() - began) / 1000;
    const rate = (sent * body.length) / seconds;
    latencies.sort((a, b) => a - b);
    await pool.end();
    return { megabytesPerSecond: round(rate / 1e6), eightTrackSessions: Math.floor(rate / (8 * TRACK_BYTES_A_SECOND)), parcelMsMedian: Math.round(latencies[latencies.length >> 1]), parcelMs95: Math.round(latencies[Math.floor(0.95 * latencies.length)]) };
  });
}

function trackList(count: number) {
  return Array.from({ length: count }, (_, k) => ({ kind: 'voice', recorded: `voice:${IN_PLAN[k] ?? `person-${k}`}`, name: `Person ${k + 1}`, channels: 1, format: 'pcm24' }) as const);
}

/** A sealed take of people who talk in turn, straight into the database. */
async function makeTake(database: string, minutes: number, count: number, onlyLast: boolean): Promise<string> {
  const pool = connect(database);
  const { rows } = await pool.query<{ id: string }>('select id from episode limit 1');
  const { take, tracks } = await beginTake(pool, rows[0].id, trackList(count));
  const people = simulateTake({ people: count, seconds: CONVERSATION_SECONDS, seed: 3, bleed: count > 1 ? [{ source: 0, target: 1, gainDb: -35, delayMs: 180 }] : [], noiseDb: -70 }).tracks;
  const chunks = people.map((track) =>
    Array.from({ length: CONVERSATION_SECONDS / CHUNK_SECONDS }, (_, index) => {
      const samples = encodeSamples('pcm24', [track], index * CHUNK_FRAMES, CHUNK_FRAMES);
      const { peaks, peak, sumOfSquares } = summarise([track.subarray(index * CHUNK_FRAMES, (index + 1) * CHUNK_FRAMES)]);
      return { frames: CHUNK_FRAMES, sha256: createHash('sha256').update(samples).digest(), samples: Buffer.from(samples), peaks: Buffer.from(peaks.buffer), peak, sumOfSquares };
    }),
  );
  const total = (minutes * 60) / CHUNK_SECONDS;
  for (let index = onlyLast ? total - 1 : 0; index < total; index++) await Promise.all(tracks.map((track, k) => insertChunk(pool, track, { index, ...chunks[k][index % chunks[k].length] })));
  await sealTake(pool, { take, lengthSamples: onlyLast ? null : total * CHUNK_FRAMES, clockAtStart: 0, clockAtCall: 0, gaps: [] });
  await pool.end();
  return take;
}

/** What programs everybody has make of the same files on the same machine, in the same run: times real time, or as said; null where there is none. */
async function usualPrograms(database: string, folder: string, take: string, seconds: number): Promise<Record<string, number | null>> {
  const pool = connect(database);
  const { bytes, pieces } = await trackPackage(pool, take);
  const zip = join(folder, 'tracks.zip');
  await pipeline(pieces(0, bytes), createWriteStream(zip));
  await pool.end();
  const into = join(folder, 'tracks');
  execFileSync('unzip', ['-q', zip, '-d', into]);
  const timed = (line: string): number | null => {
    const began = performance.now();
    const { status } = spawnSync('sh', ['-c', line], { cwd: into, stdio: 'ignore' });
    return status === 0 ? (performance.now() - began) / 1000 : null;
  };
  const times = (took: number | null) => took && round(seconds / took);
  const zipped = timed('zip -0 -q ../usual.zip *.wav');
  const results = {
    'zip -0, MB/s': zipped && round(bytes / 1e6 / zipped),
    'flac -5, one track after another': times(timed('flac -5 -s -f *.wav')),
    'ffmpeg, the tracks mixed as MP3': times(timed(`ffmpeg -v error -y $(ls *.wav | sed 's/^/-i /' | tr '\\n' ' ') -filter_complex amix=inputs=$(ls *.wav | wc -l) -b:a 128k ../usual.mp3`)),
    'ffmpeg, loudness and true peak of each': times(timed('for one in *.wav; do ffmpeg -v error -nostats -i "$one" -af ebur128=peak=true -f null - || exit 1; done')),
  };
  await rm(into, { recursive: true });
  await rm(zip);
  return results;
}

async function unzipTest(database: string, folder: string, take: string): Promise<string> {
  const pool = connect(database);
  const path = join(folder, 'tracks.zip');
  const { bytes, pieces } = await trackPackage(pool, take);
  await pipeline(pieces(0, bytes), createWriteStream(path));
  await pool.end();
  const said = execFileSync('unzip', ['-t', '-q', path], { encoding: 'utf8', maxBuffer: 2 ** 24 }).trim();
  await rm(path);
  return `${said.replace(/ of .*zip/, '')} (${bytes} bytes)`;
}
