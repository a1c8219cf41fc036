import { describe, expect, it } from 'vitest';
import { setSource } from '@/core/hearing/edit';
import { DEFAULT_KEYS, keyTakenBy } from '@/core/session/desk-actions';
import { findEpisode, findPlan, storePlan } from '../episodes/queries';
import { findKeys, keysSchema, storeKeys } from '../keys/queries';
import { beginTake } from '../takes/begin-take';
import { listPlanChanges } from '../takes/queries';
import { sealTake } from '../takes/seal-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { listNamedPlans, storeNamedPlan } from './queries';

const db = testDatabase();

describe('a plan', () => {
  it('keeps every version it ever had', async () => {
    const episode = await demoEpisode(db.pool());
    const { version, plan } = await findPlan(db.pool(), episode);
    const louder = setSource(plan, 'voice:priya', { trimDb: 4 });
    await storePlan(db.pool(), episode, version, louder);
    await storePlan(db.pool(), episode, version + 1, plan);
    const { rows } = await db.pool().query('select version, body from plan_version where episode_id = $1 order by version', [episode]);
    expect(rows).toEqual([
      { version: version + 1, body: louder },
      { version: version + 2, body: plan },
    ]);
  });

  it('can be kept under a name for the show, and replaced', async () => {
    const episode = await demoEpisode(db.pool());
    const { show_id } = await findEpisode(db.pool(), episode);
    const { plan } = await findPlan(db.pool(), episode);
    const quiet = setSource(plan, 'sounds:bed', { trimDb: -6 });
    await storeNamedPlan(db.pool(), show_id, { name: 'three guests', plan });
    await storeNamedPlan(db.pool(), show_id, { name: 'three guests', plan: quiet });
    expect(await listNamedPlans(db.pool(), show_id)).toEqual([{ name: 'three guests', plan: quiet }]);
    await expect(storeNamedPlan(db.pool(), crypto.randomUUID(), { name: 'x', plan })).rejects.toMatchObject({ status: 404 });
  });

  it('in force during a take is kept with it, every change at its sample', async () => {
    const episode = await demoEpisode(db.pool());
    const { plan } = await findPlan(db.pool(), episode);
    const { take } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    const changed = setSource(plan, 'voice:maren', { on: false });
    const planChanges = [
      { atSample: 4800, plan: changed },
      { atSample: 4800, plan },
    ];
    await sealTake(db.pool(), { take, lengthSamples: null, clockAtStart: 0, clockAtCall: null, gaps: [], planChanges });
    expect(await listPlanChanges(db.pool(), take)).toEqual(planChanges);
    const { rows } = await db.pool().query('select plan from take where id = $1', [take]);
    expect(rows[0].plan).toEqual(plan);
  });
});

describe('keys', () => {
  it('are kept, and fall back to the defaults', async () => {
    expect(await findKeys(db.pool(), await demoAccount(db.pool()))).toEqual(DEFAULT_KEYS);
    await storeKeys(db.pool(), await demoAccount(db.pool()), { ...DEFAULT_KEYS, cough: 'j' });
    expect((await findKeys(db.pool(), await demoAccount(db.pool()))).cough).toBe('j');
    // An action that came after the host chose its key for another gives way.
    await db.pool().query(`update account_keys set bindings = '{"cough": "k"}'`);
    const keys = await findKeys(db.pool(), await demoAccount(db.pool()));
    expect(keys.cough).toBe('k');
    expect(keys.mark).not.toBe('k');
    expect(new Set(Object.values(keys)).size).toBe(Object.keys(keys).length);
  });

  it('cannot be shared by two actions, nor taken from a pad', () => {
    const clash = keysSchema.safeParse({ ...DEFAULT_KEYS, dim: DEFAULT_KEYS.cough });
    expect(clash.error?.issues[0].message).toBe('has the key of cough');
    expect(keysSchema.safeParse({ ...DEFAULT_KEYS, dim: 'F1' }).success).toBe(false);
    expect(keyTakenBy('2', DEFAULT_KEYS, [{ key: '2', name: 'Ship’s bell' }], 'dim')).toBe('Ship’s bell');
    expect(keyTakenBy('d', DEFAULT_KEYS, [], 'dim')).toBeNull();
  });
});
