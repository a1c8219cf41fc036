import { describe, expect, it } from 'vitest';
import { inTransaction } from '../database';
import { insertAccount } from '../access/accounts';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { openDemo, putDemoAway } from './own-demo';

const db = testDatabase();
const count = async (table: string): Promise<number> => Number((await db.pool().query<{ count: string }>(`select count(*) from ${table}`)).rows[0].count);

describe('a demo of one’s own', () => {
  it('is opened once, beside another’s, and goes with everything in it', async () => {
    const theirs = await demoEpisode(db.pool());
    const account = { id: await insertAccount(db.pool(), { email: 'sanna@ferry.example', name: 'Sanna Oduya', passwordHash: 'x' }), name: 'Sanna Oduya', email: 'sanna@ferry.example' };
    const before = { people: await count('person'), sounds: await count('sound'), plans: await count('hearing_plan') };
    const open = () => inTransaction(db.pool(), (client) => openDemo(client, account));
    const demo = await open();
    expect(demo.episode).not.toBe(theirs);
    expect(await open()).toEqual(demo);
    await putDemoAway(db.pool(), demo.show, false);
    expect({ people: await count('person'), sounds: await count('sound'), plans: await count('hearing_plan') }).toEqual(before);
  });

  it('keeps what was recorded in it until that may go, and is never a show of one’s own', async () => {
    const account = { id: (await db.pool().query<{ id: string }>('select id from account order by email limit 1')).rows[0].id, name: 'x', email: 'x' };
    const demo = await inTransaction(db.pool(), (client) => openDemo(client, account));
    await db.pool().query("insert into take (episode_id, number, plan, hands, state, length_samples) select id, 1, '{}', '{}', 'sealed', 0 from episode where id = $1", [demo.episode]);
    await expect(putDemoAway(db.pool(), demo.show, false)).rejects.toMatchObject({ status: 409, code: 'has-takes' });
    await putDemoAway(db.pool(), demo.show, true);
    await expect(putDemoAway(db.pool(), demo.show, true)).rejects.toMatchObject({ status: 404 });
    await db.pool().query("insert into show (slug, name) values ('own', 'My own')");
    const { rows } = await db.pool().query<{ id: string }>("select id from show where slug = 'own'");
    await expect(putDemoAway(db.pool(), rows[0].id, true)).rejects.toMatchObject({ status: 404 });
  });
});
