// Long, because tasks are made, taken, given back and done by the same few steps in all of its cases.
import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import type { TakeCheck } from '@/core/checks/take-check';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createRandom } from '@/core/random';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { beginTake } from '../takes/begin-take';
import { BIN_DAYS, setBinned } from '../takes/bin';
import { sweep } from '../sweep/sweep';
import { whatRuns, listTakes } from '../takes/queries';
import { receiveChunks } from '../takes/receive-chunks';
import { sealTake } from '../takes/seal-take';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { exportSchema } from '@/core/tasks/task';
import { askFor } from './ask-for';
import { checkTake } from './check-take';
import { createGiveWay } from './give-way';
import { runTask } from './run-task';
import { hangTaskBell } from './task-bell';
import { StoppedError } from './work';
import { cancelTask, claimTask, endTask, findTask, insertTask, openTasks, reportProgress, showFirst } from './tasks';

const db = testDatabase();

async function newTake() {
  const episode = await demoEpisode(db.pool());
  const { take, tracks } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren Sollis', channels: 1, format: 'pcm16' }]);
  const samples = encodeSamples('pcm16', [new Float32Array(CHUNK_FRAMES)], 0, CHUNK_FRAMES);
  await receiveChunks(db.pool(), take, [{ track: tracks[0], index: 0, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
  return { episode, take, track: tracks[0] };
}

/** Two voices, so many chunks of each; what the first says is in the second's track too, 26 dB lower and 150 ms late. */
async function spokenTake(chunkCount: number) {
  const voices = ['maren', 'odalys'].map((id) => ({ kind: 'voice' as const, recorded: `voice:${id}`, name: id, channels: 1 as const, format: 'pcm24' as const }));
  const { take, tracks } = await beginTake(db.pool(), await demoEpisode(db.pool()), voices);
  const random = createRandom(5);
  const round = 3 * CHUNK_FRAMES;
  const said = Float32Array.from({ length: round }, (_, i) => 0.1 * random.normal() * (i < CHUNK_FRAMES ? 0.01 : 1));
  const heard = said.map((_, i) => 0.05 * said[(i + round - 7200) % round] + 0.003 * random.normal());
  const pieces = [0, 1, 2].map((k) => [said, heard].map((all) => encodeSamples('pcm24', [all], k * CHUNK_FRAMES, CHUNK_FRAMES)));
  const sums = pieces.map((both) => both.map((samples) => createHash('sha256').update(samples).digest('hex')));
  for (let index = 0; index < chunkCount; index++) {
    await receiveChunks(db.pool(), take, tracks.map((track, k) => ({ track, index, sha256: sums[index % 3][k], samples: pieces[index % 3][k] })));
  }
  await seal(take);
  return { take, tracks };
}

const seal = (take: string) => sealTake(db.pool(), { take, lengthSamples: null, clockAtStart: 0, clockAtCall: null, gaps: [] });

/** A worker's clock, moved by hand, that writes down how long it rested. */
function restingWorker(ageMs = 0, processor = 1) {
  const rests: number[] = [];
  let clock = 0;
  let worked = 0;
  const giveWay = createGiveWay(db.pool(), {
    ageMs,
    now: () => clock,
    worked: () => worked,
    rest: (ms) => {
      rests.push(ms);
      clock += ms;
      return Promise.resolve();
    },
  });
  const work = async (ms: number) => {
    clock += ms;
    worked += processor * ms;
    await giveWay.rest();
  };
  return { rests, work, heldUp: giveWay.heldUp };
}

describe('a worker', () => {
  it('rests three times as long as it works while sound is being recorded, and not otherwise', async () => {
    const { take } = await newTake();
    expect(await whatRuns(db.pool())).toBe('recording');
    const during = restingWorker();
    for (const ms of [100, 10, 10, 30, 5000]) await during.work(ms);
    // Short pieces are put together; nobody rests longer than three seconds.
    expect(during.rests).toEqual([300, 150, 3000]);
    expect(during.heldUp()).toBe('recording');
    await seal(take);
    const after = restingWorker();
    await after.work(500);
    expect(after.rests).toEqual([]);
  });

  it('rests with all its hands at once: what is worked on side by side does not fill the rest of the other', async () => {
    const { take } = await newTake();
    let clock = 0;
    const rests: { ms: number; end(): void }[] = [];
    const giveWay = createGiveWay(db.pool(), { now: () => clock, worked: () => clock, rest: (ms) => new Promise((end) => rests.push({ ms, end })) });
    clock = 100;
    let resting = 2;
    const hands: Promise<void>[] = [giveWay.rest(), giveWay.rest()].map((one) => one.then(() => {
        resting--;
      }));
    await expect.poll(() => rests.length).toBeGreaterThan(0);
    expect(rests.map(({ ms }) => ms)).toEqual([300]);
    // Whoever comes while the others rest rests with them.
    clock = 300;
    hands.push(giveWay.rest());
    expect(resting).toBe(2);
    rests[0].end();
    await Promise.all(hands);
    expect(rests).toHaveLength(1);
    await seal(take);
  });

  it('gets on with what has been wanted for long, however long is recorded', async () => {
    const { take } = await newTake();
    // Ten hours of work in pieces of a second, beside a recording that never ends.
    for (const [minutes, most] of [[0, 3000], [3, 1000], [30, 250]]) {
      const old = restingWorker(minutes * 60_000);
      await old.work(1000);
      expect(old.rests, `${minutes} min`).toEqual([most]);
    }
    const whole = restingWorker();
    for (let second = 0; second < 3600; second++) await whole.work(1000);
    expect(whole.rests.reduce((sum, ms) => sum + ms, 0) / 3_600_000).toBeLessThan(0.4);
    await seal(take);
  });

  it('says that other programs hold it up where it gets little of a processor', async () => {
    const starved = restingWorker(0, 0.1);
    for (let piece = 0; piece < 30; piece++) await starved.work(100);
    expect(starved.heldUp()).toBe('machine');
    const free = restingWorker();
    for (let piece = 0; piece < 30; piece++) await free.work(100);
    expect(free.heldUp()).toBeNull();
  });

  it('leaves a call its room too, while its desk is open', async () => {
    const episode = await demoEpisode(db.pool());
    await db.pool().query('update episode set call_started_at = now() where id = $1', [episode]);
    expect(await whatRuns(db.pool())).toBeNull();
    await db.pool().query(`insert into open_window (episode_id, party, window_id, stream_id) values ($1, 'desk', gen_random_uuid(), gen_random_uuid())`, [episode]);
    expect(await whatRuns(db.pool())).toBe('call');
    await db.pool().query('update episode set call_started_at = null');
    await db.pool().query('delete from open_window');
  });

  it('takes a take that was left open for one that nobody records', async () => {
    const { take, track } = await newTake();
    await db.pool().query(`update chunk set received_at = now() - interval '11 seconds' where track_id = $1`, [track]);
    expect(await whatRuns(db.pool())).toBeNull();
    await seal(take);
  });

  it('loses a task that falls silent to another, and may not end it any more', async () => {
    const { take } = await newTake();
    await seal(take);
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    expect(await claimTask(db.pool(), id, 'first')).toMatchObject({ take, task: { kind: 'check' } });
    expect(await claimTask(db.pool(), id, 'second')).toBeNull();
    expect(await openTasks(db.pool())).not.toContain(id);
    await db.pool().query(`update task set heard_at = now() - interval '16 seconds' where id = $1`, [id]);
    expect(await openTasks(db.pool())).toContain(id);
    expect(await claimTask(db.pool(), id, 'second')).not.toBeNull();
    expect(await reportProgress(db.pool(), id, 'first', 0.9)).toBe(false);
    expect(await reportProgress(db.pool(), id, 'second', 0.1, 'call')).toBe(true);
    expect(await findTask(db.pool(), take, id)).toMatchObject({ heldUp: 'call', before: 0 });
    const later = await insertTask(db.pool(), take, { kind: 'export', params: exportSchema.parse({ what: 'tracks' }) });
    expect(await findTask(db.pool(), take, later)).toMatchObject({ heldUp: null, before: 1 });
    await cancelTask(db.pool(), take, later);
    await endTask(db.pool(), id, 'first', { result: 'late' });
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'running', result: null });
    await endTask(db.pool(), id, 'second', { result: 'done' });
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'done', progress: 1, result: 'done' });
  });

  it('is woken by what is asked for, though its connection broke or nobody waited just then', async () => {
    const { take } = await newTake();
    await seal(take);
    const bell = hangTaskBell(db.url(), 10);
    const ask = () => askFor(db.pool(), take, { kind: 'check', params: {} });
    try {
      // It rings by itself when it begins to hear.
      await bell.wait(60_000);
      const id = await ask();
      await bell.wait(60_000);
      expect(await openTasks(db.pool())).toContain(id);
      const waits = bell.wait(60_000);
      await ask();
      await waits;
      await db.pool().query("select pg_terminate_backend(pid) from pg_stat_activity where query = 'listen task_wanted' and datname = current_database()");
      await bell.wait(60_000);
      const again = bell.wait(60_000);
      await ask();
      await again;
      await cancelTask(db.pool(), take, id);
    } finally {
      await bell.stop();
    }
  });

  it('that loses the database in the middle leaves its task to the next, which does it', async () => {
    const { take } = await newTake();
    await seal(take);
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    // The connection dies under the first statement that reads sound.
    const dying = new Proxy(db.pool(), {
      get: (pool, name) => (name === 'query' ? (text: string, values: unknown[]) => (text.includes('chunk') ? pool.query('select pg_terminate_backend(pg_backend_pid())') : pool.query(text, values)) : Reflect.get(pool, name)),
    });
    await runTask(dying, id, 'first');
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'running', problem: null });
    await db.pool().query(`update task set heard_at = now() - interval '16 seconds' where id = $1`, [id]);
    expect(await openTasks(db.pool())).toContain(id);
    await runTask(db.pool(), id, 'second');
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'done', problem: null });
  });
});

describe('a task', () => {
  it('that is asked for twice is one', async () => {
    const { take } = await newTake();
    const first = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    expect(await insertTask(db.pool(), take, { kind: 'check', params: {} })).toBe(first);
    await seal(take);
  });

  it('that is done twice at once comes to the same, whoever does it', async () => {
    const { take } = await spokenTake(6);
    const results = async (count: number) => {
      const { rows } = await db.pool().query<{ id: string }>(`insert into task (take_id, kind, params) select $1, 'check', '{}' from generate_series(1, $2) returning id`, [take, count]);
      await Promise.all(rows.map(({ id }, k) => runTask(db.pool(), id, `worker ${k}`)));
      return Promise.all(rows.map(async ({ id }) => (await findTask(db.pool(), take, id)).result));
    };
    const [alone] = await results(1);
    expect(alone).toMatchObject({ tracks: [{}, {}] });
    expect(await results(2)).toEqual([alone, alone]);
  });

  it('that checks a long take shows before all else who is heard in whose track', async () => {
    const { take, tracks } = await spokenTake(125);
    const shown: unknown[] = [];
    const work = { pool: db.pool(), task: '', take, show: (first: unknown) => Promise.resolve(void shown.push(first)), progress: () => (shown.length > 0 ? Promise.reject(new StoppedError('seen')) : Promise.resolve()) };
    await expect(checkTake(work)).rejects.toThrow('seen');
    const [{ isolation }] = shown as TakeCheck[];
    const found = isolation.find(({ source, target }) => source === tracks[0] && target === tracks[1])!;
    expect(found.verdict).toBe('bleeds');
    expect(Math.abs(found.gainDb! + 26)).toBeLessThan(1);
    expect(Math.abs(found.delayMs! - 150)).toBeLessThan(1);
    expect(isolation.find(({ source }) => source === tracks[1])!.verdict).toBe('clean');
  });

  it('shows what is known of it until it is done, and nothing when another takes it up or it is cancelled', async () => {
    const { take } = await newTake();
    await seal(take);
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    await claimTask(db.pool(), id, 'first');
    expect(await showFirst(db.pool(), id, 'first', { seen: 1 })).toBe(true);
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'running', result: { seen: 1 } });
    await db.pool().query(`update task set heard_at = now() - interval '16 seconds' where id = $1`, [id]);
    await claimTask(db.pool(), id, 'second');
    expect(await showFirst(db.pool(), id, 'first', { seen: 2 })).toBe(false);
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'running', result: null });
    await showFirst(db.pool(), id, 'second', { seen: 3 });
    await cancelTask(db.pool(), take, id);
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'cancelled', result: null });
  });

  it('that is cancelled ends its work at the next word, stays cancelled, and cannot be cancelled again', async () => {
    const { take } = await newTake();
    await seal(take);
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    await claimTask(db.pool(), id, 'worker');
    await cancelTask(db.pool(), take, id);
    expect(await reportProgress(db.pool(), id, 'worker', 0.5)).toBe(false);
    await endTask(db.pool(), id, 'worker', { result: 'too late' });
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'cancelled', result: null });
    await expect(cancelTask(db.pool(), take, id)).rejects.toMatchObject({ status: 409, code: 'task-ended' });
    await expect(cancelTask(db.pool(), take, crypto.randomUUID())).rejects.toMatchObject({ status: 404 });
    // Nobody takes it up again.
    await runTask(db.pool(), id, 'another');
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'cancelled' });
  });

  it('on a take that is still open is refused with what to do', async () => {
    const { take } = await newTake();
    const id = await insertTask(db.pool(), take, { kind: 'check', params: {} });
    await runTask(db.pool(), id, 'worker');
    expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'failed', problem: expect.stringContaining('still open') });
    await seal(take);
  });
});

const emptyBin = async () => (await sweep(db.pool()))['takes in the bin'];

describe('the bin', () => {
  it('keeps a take for thirty days, and then lets go of it with its sound', async () => {
    const { episode, take, track } = await newTake();
    await seal(take);
    await setBinned(db.pool(), take, true);
    const age = (days: number) => db.pool().query(`update take set binned_at = now() - make_interval(days => $2) + interval '1 minute' where id = $1`, [take, days]);
    await age(BIN_DAYS);
    expect(await emptyBin()).toBe(0);
    await age(BIN_DAYS + 1);
    expect(await emptyBin()).toBe(1);
    expect((await listTakes(db.pool(), episode)).some(({ id }) => id === take)).toBe(false);
    const { rows } = await db.pool().query('select 1 from chunk where track_id = $1', [track]);
    expect(rows).toHaveLength(0);
  });

  it('gives a take back whole', async () => {
    const { take } = await newTake();
    await seal(take);
    await setBinned(db.pool(), take, true);
    await setBinned(db.pool(), take, false);
    await db.pool().query(`update take set sealed_at = now() - interval '90 days' where id = $1`, [take]);
    expect(await emptyBin()).toBe(0);
    await expect(setBinned(db.pool(), crypto.randomUUID(), true)).rejects.toMatchObject({ status: 404 });
  });
});
