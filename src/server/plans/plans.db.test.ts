import { describe, expect, it } from 'vitest';
import { setSource } from '@/core/hearing/edit';
import { DEFAULT_KEYS, keyTakenBy } from '@/core/session/desk-actions';
import { findEpisode, findPlan, storePlan } from '../episodes/queries';
import { findKeys, keysSchema, storeKeys } from '../keys/queries';
import { beginTake } from '../takes/begin-take';
import { PLAN_FORMAT } from '@/core/hearing/stored-plan';
import { NO_HANDS } from '@/core/takes/plan-log';
import { keepLog, listPlanWords, takeLog } from '../takes/take-log';
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
      { version: version + 1, body: { format: PLAN_FORMAT, ...louder } },
      { version: version + 2, body: { format: PLAN_FORMAT, ...plan } },
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

  it('in force during a take is kept with it as the audio thread wrote it down, hands and all', async () => {
    const episode = await demoEpisode(db.pool());
    const { plan } = await findPlan(db.pool(), episode);
    // What the desk has is ahead of what is stored.
    const ahead = setSource(plan, 'voice:maren', { trimDb: 2 });
    const held = { ...NO_HANDS, held: ['share:computer' as const] };
    const { take } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }], [], { plan: ahead, hands: held });
    expect(await takeLog(db.pool(), take)).toEqual({ begin: { atSample: 0, plan: ahead, hands: held }, changes: [] });
    const off = setSource(ahead, 'voice:maren', { on: false });
    const coughing = { ...NO_HANDS, cough: { 'voice:maren': { callers: true, program: true } } };
    const log = [
      { atSample: 0, plan: ahead, hands: held },
      // What came into force while the take was starting.
      { atSample: 0, plan: ahead, hands: NO_HANDS },
      { atSample: 4800, plan: off, hands: NO_HANDS, rampSeconds: 0.35 },
      { atSample: 4800, plan: ahead, hands: NO_HANDS },
      { atSample: 9600, plan: ahead, hands: coughing },
      { atSample: 9900, plan: ahead, hands: held },
    ];
    const plans = log.map((entry, place) => ({ place, ...entry }));
    await keepLog(db.pool(), take, { plans: plans.slice(0, 4), gaps: [] });
    await keepLog(db.pool(), take, { plans: plans.slice(2), gaps: [] });
    expect(await takeLog(db.pool(), take)).toEqual({ begin: log[1], changes: log.slice(2) });
    expect((await listPlanWords(db.pool(), take)).map(({ atSample, words }) => [atSample, /is kept out of every mix/.test(words)])).toEqual([[4800, false], [4800, false], [9900, true]]);
    await sealTake(db.pool(), { take, lengthSamples: null, clockAtStart: 0, clockAtCall: null, gaps: [] });
    await expect(keepLog(db.pool(), take, { plans: [], gaps: [] })).rejects.toMatchObject({ code: 'take-sealed' });
  });

  it('of a take that a fader was ridden in are shown evenly taken, not all', async () => {
    const episode = await demoEpisode(db.pool());
    const { plan } = await findPlan(db.pool(), episode);
    const { take } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    for (let place = 0; place < 1000; place += 50) {
      const plans = Array.from({ length: 50 }, (_, k) => ({ place: place + k, atSample: 100 * (1 + place + k), plan: setSource(plan, 'sounds:bed', { trimDb: -(place + k) / 50 }), hands: NO_HANDS }));
      await keepLog(db.pool(), take, { plans, gaps: [] });
    }
    const words = await listPlanWords(db.pool(), take);
    expect(words.length).toBeGreaterThan(200);
    expect(words.length).toBeLessThanOrEqual(400);
    expect((await takeLog(db.pool(), take)).changes.length).toBe(1000);
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
