import { describe, expect, it } from 'vitest';
import { lineCheckSchema, type LineCheck } from '@/core/linecheck/line-check';
import { testDatabase } from '../testing/test-database';
import { keepLineCheck, lineCheckOfTake, newestLineCheck } from './line-checks';

const db = testDatabase();
const check = (minute: number, change: Partial<LineCheck> = {}): LineCheck =>
  lineCheckSchema.parse({ version: 1, seed: minute, at: new Date(Date.UTC(2031, 0, 1, 10, minute)).toISOString(), seconds: 6, planVersion: 1, passes: 1, names: {}, crosspoints: [], waysBack: [], otherMixes: [], inputs: [], farEnds: [], duringTake: null, ...change });

describe('line checks of an episode', () => {
  it('belong to the takes that began after them, and the ones that do are kept whatever comes later', async () => {
    const pool = db.pool();
    const { rows } = await pool.query<{ id: string }>(
      "with made as (insert into show (slug, name) values ('boathouse', 'Boathouse') returning id) insert into episode (show_id, number, title) select id, 1, 'The slipway' from made returning id",
    );
    const episode = rows[0].id;
    const take = async (number: number, minute: number): Promise<string> => {
      const made = await pool.query<{ id: string }>("insert into take (episode_id, number, started_at, plan, hands) values ($1, $2, $3, '{}', '{}') returning id", [episode, number, new Date(Date.UTC(2031, 0, 1, 10, minute))]);
      return made.rows[0].id;
    };
    expect(await newestLineCheck(pool, episode)).toBeNull();
    const before = await take(1, 0);
    await keepLineCheck(pool, episode, check(5));
    const after = await take(2, 6);
    for (let minute = 10; minute < 50; minute++) await keepLineCheck(pool, episode, check(minute));
    expect(await lineCheckOfTake(pool, before)).toBeNull();
    expect((await lineCheckOfTake(pool, after))?.seed).toBe(5);
    expect((await newestLineCheck(pool, episode))?.seed).toBe(49);
    const { rows: kept } = await pool.query<{ count: number }>('select count(*)::int as count from line_check where episode_id = $1', [episode]);
    expect(kept[0].count).toBe(21);
    // One that was made while it ran is its own, and another episode's take is not asked for here.
    await keepLineCheck(pool, episode, check(55, { duringTake: before }));
    expect((await lineCheckOfTake(pool, before))?.seed).toBe(55);
    expect(await lineCheckOfTake(pool, after, before)).toBeNull();
  });
});
