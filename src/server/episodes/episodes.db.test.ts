import { padSamples } from '@/core/session/desk-data';
import { describe, expect, it } from 'vitest';
import { setSource } from '@/core/hearing/edit';
import { migrate } from '../migrate';
import { seedDemo } from '../demo/seed';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { loadDesk } from './load-desk';
import { findPlan, listEpisodes, setCallRunning, storePlan } from './queries';

const db = testDatabase();
const viewer = async () => ({ account: await demoAccount(db.pool()), role: 'owner' as const });

describe('the demo', () => {
  it('is put into the database once, however many processes start', async () => {
    await Promise.all([migrate(db.url()), migrate(db.url())]);
    expect(await Promise.all([seedDemo(db.pool()), seedDemo(db.pool())])).toEqual([false, false]);
    const episodes = await listEpisodes(db.pool(), await demoAccount(db.pool()));
    expect(episodes).toMatchObject([{ number: 14, title: 'The last chain ferry', callers: ['Odalys', 'Tomasz', 'Priya', 'Harbour'], takes: 0 }]);
  });

  it('opens as a desk with people, pads and a plan', async () => {
    const desk = await loadDesk(db.pool(), await demoEpisode(db.pool()), await viewer());
    expect(desk.seats.map(({ name }) => name)).toEqual(['Maren', 'Odalys', 'Tomasz', 'Priya', 'Harbour', 'Jude']);
    expect(desk.pads.map((pad) => [pad.name, padSamples(pad)])).toEqual([
      ['Opening theme', 576000],
      ['Ship’s bell', 144000],
      ['River bed', 480000],
      ['Break sting', 192000],
    ]);
    expect(desk.callRunning).toBe(false);
    await expect(loadDesk(db.pool(), crypto.randomUUID(), await viewer())).rejects.toMatchObject({ status: 404 });
  });
});

describe('a plan', () => {
  it('made from an old version does not overwrite a newer one', async () => {
    const episode = await demoEpisode(db.pool());
    const { version, plan } = await findPlan(db.pool(), episode);
    const quieter = setSource(plan, 'voice:maren', { trimDb: -6 });
    expect(await storePlan(db.pool(), episode, version, quieter)).toBe(version + 1);
    // An answer that was lost: the same again is the same.
    expect(await storePlan(db.pool(), episode, version, quieter)).toBe(version + 1);
    await expect(storePlan(db.pool(), episode, version, plan)).rejects.toMatchObject({ status: 409, code: 'plan-changed' });
    expect(await findPlan(db.pool(), episode)).toEqual({ version: version + 1, plan: quieter });
  });
});

describe('a call', () => {
  it('is remembered until it is ended', async () => {
    const episode = await demoEpisode(db.pool());
    await setCallRunning(db.pool(), episode, true);
    expect((await loadDesk(db.pool(), episode, await viewer())).callRunning).toBe(true);
    await setCallRunning(db.pool(), episode, false);
    expect((await loadDesk(db.pool(), episode, await viewer())).callRunning).toBe(false);
  });
});
