import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { decodeSamples, encodeSamples } from '@/core/formats/wav/sample-format';
import { CHUNK_FRAMES, HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import { exportSchema } from '@/core/tasks/task';
import { findGuest, issueInvitation } from '../access/invitations';
import { requireHome } from '../access/who';
import { noteEvent } from '../audit/events';
import { inTransaction } from '../database';
import { findPlan, storePlan } from '../episodes/queries';
import { beginHome, receiveHomeChunk } from '../home/receive-home';
import { runTask } from '../jobs/run-task';
import { findTask, insertTask } from '../jobs/tasks';
import { putMessage } from '../message-box/queries';
import { storeNamedPlan } from '../plans/queries';
import { beginTake } from '../takes/begin-take';
import { storeMarker } from '../takes/markers';
import { describeTake } from '../takes/bin';
import { loadTake } from '../takes/load-take';
import { receiveChunks } from '../takes/receive-chunks';
import { sealTake } from '../takes/seal-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { addSeat, insertConsent } from './queries';
import { eraseGuest, listGuests } from './erase-guest';

const db = testDatabase();
const FRAMES = 2 * CHUNK_FRAMES;
const [HOST_HZ, GUEST_HZ] = [440, 1210];
const WHOLE_NAME = 'Ilvana Quist-Oduya';

const hash = (samples: Uint8Array) => createHash('sha256').update(samples).digest('hex');
const tone = (...hz: number[]) => Float32Array.from({ length: FRAMES }, (_, i) => hz.reduce((sum, one) => sum + 0.1 * Math.sin((2 * Math.PI * one * i) / 48_000), 0));

/** Level of a tone in a second of sound, dB against full scale. */
function toneDb(samples: Float32Array, hz: number): number {
  let [re, im] = [0, 0];
  for (let i = 0; i < samples.length; i++) {
    re += samples[i] * Math.cos((2 * Math.PI * hz * i) / 48_000);
    im += samples[i] * Math.sin((2 * Math.PI * hz * i) / 48_000);
  }
  return 10 * Math.log10(((2 / samples.length) ** 2) * (re * re + im * im) + 1e-20);
}

/** Places in which a tone is kept, whatever keeps it. */
async function chunksWith(hz: number): Promise<number> {
  const { rows } = await db.pool().query<{ samples: Buffer }>('select samples from chunk union all select samples from home_chunk');
  return rows.filter(({ samples }) => toneDb(decodeSamples('pcm24', 1, samples)[0] ?? new Float32Array(0), hz) > -60).length;
}

const dump = () => execFileSync('pg_dump', ['--dbname', db.url()], { maxBuffer: 2 ** 30, encoding: 'latin1' }).toLowerCase();

let episode = '';
let show = '';
let take = '';
let seat = '';
let account: { id: string; name: string };

beforeAll(async () => {
  const pool = db.pool();
  episode = await demoEpisode(pool);
  account = { id: await demoAccount(pool), name: 'Maren Sollis' };
  ({ rows: [{ show_id: show }] } = await pool.query<{ show_id: string }>('select show_id from episode'));
  ({ id: seat } = await addSeat(pool, episode, { name: 'Ilvana', fullName: WHOLE_NAME, about: '', reflexive: 'herself', role: 'caller', line: 'link' }));
  const guest = await findGuest(pool, (await issueInvitation(pool, episode, seat, 7)).token);
  await insertConsent(pool, episode, { seat, name: 'Ilvana Q.', wording: `${WHOLE_NAME} agrees` });
  const { plan, version } = await findPlan(pool, episode);
  const stored = { ...plan, seats: [...plan.seats, { id: seat, name: 'Ilvana', role: 'caller' as const, line: 'link' as const, reflexive: 'herself' as const }], listeners: { ...plan.listeners, [`return:${seat}`]: { rule: 'host' as const, levelDb: -2, asTheyCome: false } } };
  await storePlan(pool, episode, version, stored);
  await storeNamedPlan(pool, show, { name: 'As with Ilvana', plan: stored });
  const begun = await beginTake(pool, episode, [
    { kind: 'voice', recorded: 'voice:maren', name: 'Maren Sollis', channels: 1, format: 'pcm24' },
    { kind: 'voice', recorded: `voice:${seat}`, name: WHOLE_NAME, channels: 1, format: 'pcm24' },
    { kind: 'program', recorded: 'program', name: 'Program', channels: 1, format: 'pcm24' },
  ]);
  take = begun.take;
  for (const [k, sound] of [tone(HOST_HZ), tone(GUEST_HZ), tone(HOST_HZ, GUEST_HZ)].entries()) {
    for (const index of [0, 1]) {
      const samples = encodeSamples('pcm24', [sound], index * CHUNK_FRAMES, CHUNK_FRAMES);
      await receiveChunks(pool, take, [{ track: begun.tracks[k], index, sha256: hash(samples), samples }]);
    }
  }
  const { home, key } = await beginHome(pool, guest, take);
  const atHome = encodeSamples('pcm24', [tone(GUEST_HZ)], 0, Math.min(HOME_CHUNK_FRAMES, FRAMES));
  await receiveHomeChunk(pool, await requireHome(pool, new Headers({ authorization: `Bearer ${key}` }), home), 0, hash(atHome), atHome);
  await storeMarker(pool, take, { id: crypto.randomUUID(), atSample: 4800, lengthSamples: 0, name: 'Ilvana tells of the flood' });
  await describeTake(pool, take, { name: `With ${WHOLE_NAME}`, note: 'ILVANA is quiet' });
  await pool.query('update episode set title = $2 where id = $1', [episode, `${WHOLE_NAME} and the chain`]);
  await noteEvent(pool, account, show, 'invitation', 'made a link for Ilvana');
  await putMessage(pool, { episode, sender: seat, recipient: 'desk', body: { type: 'status', name: 'Ilvana' } as never });
});

const erase = (name: string) => inTransaction(db.pool(), (client) => eraseGuest(client, show, name));

describe('erasing everything of a guest', () => {
  it('waits for the take they are on, and then leaves nothing of them; takes still check and export, and new ones seal', async () => {
    await expect(erase('Nobody Known')).rejects.toMatchObject({ status: 404 });
    await expect(erase(WHOLE_NAME)).rejects.toMatchObject({ status: 409, code: 'take-open' });
    await sealTake(db.pool(), { take, lengthSamples: FRAMES, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    for (const task of [{ kind: 'check', params: {} }, { kind: 'export', params: exportSchema.parse({ what: 'mix', file: 'wav' }) }] as const) await runTask(db.pool(), await insertTask(db.pool(), take, task), 'tester');
    expect(await chunksWith(GUEST_HZ)).toBeGreaterThan(4);
    expect((await listGuests(db.pool(), show)).find(({ name }) => name === WHOLE_NAME)).toEqual({ name: WHOLE_NAME, episodes: [14], takes: 1 });

    expect(await erase(WHOLE_NAME)).toEqual({ takes: 1, tracks: 1, mixes: 1 });

    const kept = dump();
    expect(['ilvana', 'quist-oduya', 'ilvana q.'].filter((name) => kept.includes(name))).toEqual([]);
    expect(await chunksWith(GUEST_HZ)).toBe(0);
    expect(await chunksWith(HOST_HZ)).toBe(2);
    expect((await listGuests(db.pool(), show)).map(({ name }) => name)).not.toContain(WHOLE_NAME);
    const { rows: consents } = await db.pool().query('select name, wording, erased_at is not null as erased from take_consent where take_id = $1', [take]);
    expect(consents).toEqual([{ name: 'Erased guest', wording: 'Everything of this guest was erased.', erased: true }]);

    const shown = await loadTake(db.pool(), take);
    expect(shown.tracks.map(({ name }) => name)).toEqual(['Maren Sollis']);
    for (const task of [{ kind: 'check', params: {} }, { kind: 'export', params: exportSchema.parse({ what: 'mix', file: 'wav' }) }] as const) {
      const id = await insertTask(db.pool(), take, task);
      await runTask(db.pool(), id, 'tester');
      expect(await findTask(db.pool(), take, id)).toMatchObject({ state: 'done', problem: null });
    }
    const { plan } = await findPlan(db.pool(), episode);
    expect(plan.listeners['return:erased']).toMatchObject({ levelDb: -2 });
    // The next take of the same episode is recorded and sealed as any other.
    const next = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren Sollis', channels: 1, format: 'pcm24' }]);
    const samples = encodeSamples('pcm24', [tone(HOST_HZ)], 0, CHUNK_FRAMES);
    await receiveChunks(db.pool(), next.take, [{ track: next.tracks[0], index: 0, sha256: hash(samples), samples }]);
    await sealTake(db.pool(), { take: next.take, lengthSamples: CHUNK_FRAMES, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await expect(erase(WHOLE_NAME)).rejects.toMatchObject({ status: 404 });
  });

  it('is told apart from another guest of the same short name, and refused while a call runs', async () => {
    for (const fullName of ['Rosa Alder', 'Rosa Birch']) await addSeat(db.pool(), episode, { name: 'Rosa', fullName, about: '', reflexive: 'herself', role: 'caller', line: 'link' });
    await describeTake(db.pool(), take, { note: 'Rosa Alder and Rosa' });
    await db.pool().query('update episode set call_started_at = now()');
    await expect(erase('Rosa Alder')).rejects.toMatchObject({ status: 409, code: 'call-runs' });
    await db.pool().query('update episode set call_started_at = null');
    await erase('Rosa Alder');
    expect((await listGuests(db.pool(), show)).map(({ name }) => name)).toContain('Rosa Birch');
    expect((await loadTake(db.pool(), take)).note).not.toContain('Rosa Alder');
  });
});
