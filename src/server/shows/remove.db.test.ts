import { describe, expect, it } from 'vitest';
import { encodeSamples } from '@/core/formats/wav/sample-format';
import { createHash } from 'node:crypto';
import { listEvents, noteEvent } from '../audit/events';
import { inTransaction } from '../database';
import { beginTake } from '../takes/begin-take';
import { receiveChunks } from '../takes/receive-chunks';
import { sealTake } from '../takes/seal-take';
import { demoAccount, demoEpisode, testDatabase } from '../testing/test-database';
import { removeEpisode, removeShow } from './remove';

const db = testDatabase();

/** Rows of every table that name something. */
async function rowsWith(text: string): Promise<string[]> {
  const { rows: tables } = await db.pool().query<{ name: string }>("select table_name as name from information_schema.tables where table_schema = 'public'");
  const found: string[] = [];
  for (const { name } of tables) {
    const { rows } = await db.pool().query(`select 1 from "${name}" one where one::text like $1 limit 1`, [`%${text}%`]);
    if (rows.length > 0) found.push(name);
  }
  return found;
}

describe('removing for good', () => {
  it('is refused while a take or a call is on and while nobody said that takes may go; then nothing is left', async () => {
    const episode = await demoEpisode(db.pool());
    const { rows } = await db.pool().query<{ show: string; title: string }>('select show_id as show, title from episode where id = $1', [episode]);
    const [{ show, title }] = rows;
    const remove = (withTakes: boolean) => inTransaction(db.pool(), (client) => removeEpisode(client, episode, withTakes));
    const { take, tracks } = await beginTake(db.pool(), episode, [{ kind: 'voice', recorded: 'voice:maren', name: 'Maren', channels: 1, format: 'pcm24' }]);
    const samples = encodeSamples('pcm24', [new Float32Array(48_000).fill(0.25)], 0, 48_000);
    await receiveChunks(db.pool(), take, [{ track: tracks[0], index: 0, sha256: createHash('sha256').update(samples).digest('hex'), samples }]);
    await expect(remove(true)).rejects.toMatchObject({ status: 409, code: 'take-open' });
    await sealTake(db.pool(), { take, lengthSamples: 48_000, clockAtStart: 0, clockAtCall: 0, gaps: [] });
    await db.pool().query('update episode set call_started_at = now()');
    await expect(remove(true)).rejects.toMatchObject({ code: 'call-runs' });
    await db.pool().query('update episode set call_started_at = null');
    await expect(remove(false)).rejects.toMatchObject({ code: 'has-takes', message: expect.stringContaining('One take was recorded') });
    expect(await remove(true)).toBe(title);
    expect([await rowsWith(episode), await rowsWith(take), await rowsWith(tracks[0])]).toEqual([[], [], []]);
    await expect(remove(true)).rejects.toMatchObject({ status: 404 });

    const account = { id: await demoAccount(db.pool()), name: 'Maren Sollis' };
    await noteEvent(db.pool(), account, show, 'removal', `removed the episode ${title}`);
    await noteEvent(db.pool(), account, null, 'sign-in', 'signed in');
    expect((await listEvents(db.pool(), show)).map(({ who, words }) => `${who} ${words}`)).toEqual(['Maren Sollis signed in', `Maren Sollis removed the episode ${title}`]);
    expect(await inTransaction(db.pool(), (client) => removeShow(client, show, false))).toBe('Ferry Weather');
    expect(await rowsWith(show)).toEqual([]);
    // What was done is still known, by name.
    const { rows: kept } = await db.pool().query('select account_name, words from audit_event where kind = $1', ['removal']);
    expect(kept).toEqual([{ account_name: 'Maren Sollis', words: `removed the episode ${title}` }]);
  });
});
