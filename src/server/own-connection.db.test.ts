import { afterEach, describe, expect, it } from 'vitest';
import { ownConnection } from './own-connection';
import { databaseDoor, type DatabaseDoor } from './testing/database-door';
import { testDatabase } from './testing/test-database';

const db = testDatabase();

describe('a connection of a process’s own', () => {
  let door: DatabaseDoor | undefined;
  afterEach(() => door?.close());

  it('is waited for while the database is away, and its loss is told once it was there', async () => {
    door = await databaseDoor(db.url(), 2);
    const { url, asked, breakOff } = door;
    let tell: (error: Error) => void = () => undefined;
    const lost = new Promise<Error>((resolve) => (tell = resolve));
    const client = await ownConnection(url, tell);
    expect(asked()).toBe(3);
    expect((await client.query<{ one: number }>('select 1 as one')).rows).toEqual([{ one: 1 }]);
    breakOff();
    expect((await lost).message).toContain('terminated');
    await client.end().catch(() => undefined);
  });

  it('is not waited for where waiting would not help', async () => {
    const nowhere = new URL(db.url());
    nowhere.pathname = '/no_such_database';
    await expect(ownConnection(nowhere.href, () => undefined)).rejects.toThrow('no_such_database');
  });
});
