import { connect, createServer, type AddressInfo, type Server } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { ownConnection } from './own-connection';
import { testDatabase } from './testing/test-database';

const db = testDatabase();

describe('a connection of a process’s own', () => {
  let door: Server | undefined;
  afterEach(() => void door?.close());

  /** A way to the database that turns everybody away at first. */
  async function opensAfter(refusals: number): Promise<{ url: string; asked(): number; breakOff(): void }> {
    const inside = new URL(db.url());
    const callers: (() => void)[] = [];
    let asked = 0;
    door = createServer((caller) => {
      caller.on('error', () => undefined);
      if (asked++ < refusals) return void caller.destroy();
      const server = connect(Number(inside.port), inside.hostname);
      server.on('error', () => caller.destroy());
      caller.pipe(server).pipe(caller);
      callers.push(() => caller.destroy());
    });
    await new Promise<void>((resolve) => door!.listen(0, '127.0.0.1', resolve));
    const url = new URL(inside);
    url.hostname = '127.0.0.1';
    url.port = String((door.address() as AddressInfo).port);
    return { url: url.href, asked: () => asked, breakOff: () => callers.forEach((end) => end()) };
  }

  it('is waited for while the database is away, and its loss is told once it was there', async () => {
    const { url, asked, breakOff } = await opensAfter(2);
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
