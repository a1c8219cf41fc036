// How many desks one server carries: more and more of them send eight tracks each, as desks do, until it no longer keeps up.
//   npm run --silent load-desks -- 4 30                 (desks more each time, seconds each time)
//   npm run --silent load-desks -- 4 30 2 10 16         (two instances of the server, ten connections each, sixteen recordings at home beside them)
// Prints a line a step and one JSON object. It has a database of its own; the product's build is needed.
import { createHash } from 'node:crypto';
import { cpus } from 'node:os';
import { joinBytes } from '../src/core/formats/join-bytes';
import { encodeSamples } from '../src/core/formats/wav/sample-format';
import { simulateTake } from '../src/core/practice/take-with-bleed';
import { CHUNK_FRAMES, HOME_CHUNK_FRAMES, SAMPLE_RATE } from '../src/core/takes/chunks';
import { PARCEL_HEADER, type ParcelEntry } from '../src/core/takes/parcel';
import { newToken } from '../src/server/access/tokens';
import { connect } from '../src/server/database';
import { insertHome } from '../src/server/home/queries';
import { beginTake } from '../src/server/takes/begin-take';
import { withBenchDatabase, withServer } from './bench-server';
import { processorSeconds, type ProcessorUse } from './processor-use';

const TRACKS = 8;
const CHUNK_MS = (1000 * CHUNK_FRAMES) / SAMPLE_RATE;
const HOME_CHUNK_MS = (1000 * HOME_CHUNK_FRAMES) / SAMPLE_RATE;
/** A step is kept up with when this share of all parcels are safe before the next ones are due. */
const KEPT_UP = 0.95;
const MOST_STEPS = 40;
/** Voices of the demo's plan; more people than it has are on tracks alone. */
const IN_PLAN = ['maren', 'odalys', 'tomasz', 'priya'];
const AT_HOME = 'odalys';

interface Step {
  desks: number;
  homes: number;
  megabytesPerSecond: number;
  /** From when a parcel was due until it was safe, ms. */
  safeAfterMs: { median: number; most95: number };
  homeSafeAfterMs95: number | null;
  keptUp: number;
  /** Processors that were busy with each, of all there are. */
  busy: ProcessorUse;
}

const [more, seconds, instances, connections, homes] = ['4', '30', '1', '10', '0'].map((usual, k) => Number(process.argv[2 + k] ?? usual));
if (![more, seconds, instances, connections, homes].every((value) => Number.isInteger(value) && value >= 0) || more < 1 || seconds < 4 || instances < 1 || connections < 1) {
  console.error('Say how many desks more each time, for how many seconds, and if you like how many instances with how many connections each and how many recordings at home: npm run load-desks -- 4 30 2 10 16');
  process.exit(1);
}
process.env.DATABASE_CONNECTIONS = String(connections);
const [voice] = simulateTake({ people: 1, seconds: CHUNK_MS / 1000, seed: 1, bleed: [], noiseDb: -60 }).tracks;
const chunk = encodeSamples('pcm24', [voice], 0, CHUNK_FRAMES);
const parcel = { body: joinBytes(Array.from({ length: TRACKS }, () => chunk)), chunkBytes: chunk.length, sha256: sha256(chunk) };
const homeSamples = encodeSamples('pcm24', [voice], 0, HOME_CHUNK_FRAMES);
const homeChunk = { samples: homeSamples, sha256: sha256(homeSamples) };

const steps = await withBenchDatabase((database) => withServers(database, instances, (addresses) => load(database, addresses)));
console.log(JSON.stringify({ processors: cpus().length, instances, connections, homes, carried: Math.max(0, ...steps.filter(({ keptUp }) => keptUp >= KEPT_UP).map(({ desks }) => desks)), steps }));

function withServers<Result>(database: string, count: number, measure: (addresses: string[]) => Promise<Result>): Promise<Result> {
  if (count === 0) return measure([]);
  return withServer(database, (address) => withServers(database, count - 1, (others) => measure([address, ...others])));
}

async function load(database: string, addresses: readonly string[]): Promise<Step[]> {
  const pool = connect(database);
  const { rows } = await pool.query<{ id: string }>('select id from episode limit 1');
  const done: Step[] = [];
  for (let desks = more; done.length < MOST_STEPS && (done.at(-1)?.keptUp ?? 1) >= KEPT_UP; desks += more) {
    const takes = await Promise.all(Array.from({ length: desks }, () => beginTake(pool, rows[0].id, trackList())));
    const keys = await Promise.all(Array.from({ length: homes }, (_, k) => beginAtHome(takes[k % desks].take, rows[0].id)));
    const used = processorSeconds();
    const ends = performance.now() + 1000 * seconds;
    const addressOf = (k: number) => addresses[k % addresses.length];
    const [parcels, chunks] = await Promise.all([
      Promise.all(takes.map(({ take, tracks }, k) => sendPaced(k / desks, CHUNK_MS, ends, parcelSender(addressOf(k), take, tracks)))),
      Promise.all(keys.map((home, k) => sendPaced(k / homes, HOME_CHUNK_MS, ends, homeSender(addressOf(k), home)))),
    ]);
    const busy = used();
    const late = parcels.flat().sort((a, b) => a - b);
    const homeLate = chunks.flat().sort((a, b) => a - b);
    const sent = late.length * parcel.body.length + homeLate.length * homeChunk.samples.length;
    done.push({
      desks,
      homes,
      megabytesPerSecond: round(sent / 1e6 / seconds),
      safeAfterMs: { median: Math.round(late[late.length >> 1]), most95: Math.round(late[Math.floor(0.95 * late.length)]) },
      homeSafeAfterMs95: homeLate.length > 0 ? Math.round(homeLate[Math.floor(0.95 * homeLate.length)]) : null,
      keptUp: round(late.filter((ms) => ms < CHUNK_MS).length / late.length),
      busy,
    });
    console.error(JSON.stringify(done.at(-1)));
  }
  await pool.end();
  return done;

  async function beginAtHome(take: string, episode: string) {
    const { token, hash } = newToken();
    return { id: (await insertHome(pool, take, episode, AT_HOME, 'pcm24', hash))!, key: token };
  }
}

/** Sends something each `everyMs`, one after another, until the end; gives how long after it was due each one was safe, ms. What is still due then counts with what it has waited. */
async function sendPaced(phase: number, everyMs: number, ends: number, send: (number: number) => Promise<void>): Promise<number[]> {
  const begins = performance.now() + phase * everyMs;
  const took: number[] = [];
  for (let number = 0; ; number++) {
    const due = begins + number * everyMs;
    if (due >= ends) return took;
    const wait = due - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    if (performance.now() < ends) await send(number);
    took.push(performance.now() - due);
  }
}

function parcelSender(address: string, take: string, tracks: readonly string[]) {
  return (number: number) => {
    const said = tracks.map((track): ParcelEntry => ({ track, index: number, sha256: parcel.sha256, bytes: parcel.chunkBytes }));
    return put(address, `/api/takes/${take}/chunks`, { [PARCEL_HEADER]: JSON.stringify(said) }, parcel.body);
  };
}

function homeSender(address: string, { id, key }: { id: string; key: string }) {
  return (number: number) => put(address, `/api/guest/home/${id}/chunks/${number}`, { 'x-chunk-sha256': homeChunk.sha256, authorization: `Bearer ${key}` }, homeChunk.samples);
}

async function put(address: string, path: string, headers: Record<string, string>, body: Uint8Array<ArrayBuffer>): Promise<void> {
  const response = await fetch(`${address}${path}`, { method: 'PUT', headers: { ...headers, origin: address }, body });
  if (!response.ok) throw new Error(`${response.status}: ${await response.text()}`);
  await response.arrayBuffer();
}

function trackList() {
  return Array.from({ length: TRACKS }, (_, k) => ({ kind: 'voice', recorded: `voice:${IN_PLAN[k] ?? `person-${k}`}`, name: `Person ${k + 1}`, channels: 1, format: 'pcm24' }) as const);
}

function sha256(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}
