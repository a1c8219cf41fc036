import { randomUUID } from 'node:crypto';
import type pg from 'pg';
import { DESK, SERVER, type FromServer } from '@/core/lines/messages';
import { inTransaction, type Querier } from '../database';
import { HttpError } from '../http/errors';
import { newestMessage, putMessage } from '../message-box/queries';

/** A window that was not heard of for so long is gone: its app instance died with it. */
const GONE_SECONDS = 15;

export interface Claim {
  episode: string;
  /** `desk`, or a seat. */
  party: string;
  window: string;
  /** The event stream that keeps the place. */
  stream: string;
}

/**
 * Gives a party's place to a window, and tells the desk. Returns the id after which its messages
 * begin. @throws {HttpError} 409 when another window has the place
 */
export async function claimWindow(pool: pg.Pool, claim: Claim): Promise<number> {
  return inTransaction(pool, async (client) => {
    const held = await holder(client, claim.episode, claim.party);
    if (held !== null && held.window !== claim.window && !held.gone) {
      throw new HttpError(409, 'open-elsewhere', claim.party === DESK ? 'This desk is open in another window.' : 'This link is open in another window.');
    }
    await hold(client, claim);
    if (claim.party !== DESK) {
      await tell(client, claim.episode, DESK, { type: 'window-opened', seat: claim.party, window: claim.window });
    }
    return newestMessage(client, claim.episode);
  });
}

/**
 * Takes a party's place for a window, whoever has it, and tells them. The window then opens its event stream; until it
 * has, the place is kept for it as for any that is gone for a moment.
 */
export async function takeWindow(pool: pg.Pool, claim: Omit<Claim, 'stream'>): Promise<void> {
  await inTransaction(pool, async (client) => {
    const held = await holder(client, claim.episode, claim.party);
    if (held !== null && held.window !== claim.window && !held.gone) await tell(client, claim.episode, claim.party, { type: 'ousted', by: claim.window });
    await hold(client, { ...claim, stream: randomUUID() });
  });
}

async function hold(db: Querier, { episode, party, window, stream }: Claim): Promise<void> {
  await db.query(
    `insert into open_window (episode_id, party, window_id, stream_id) values ($1, $2, $3, $4)
     on conflict (episode_id, party) do update set window_id = $3, stream_id = $4, seen_at = now()`,
    [episode, party, window, stream],
  );
}

async function holder(db: Querier, episode: string, party: string): Promise<{ window: string; gone: boolean } | null> {
  // One claim at a time, also where there is no row yet to lock.
  await db.query('select pg_advisory_xact_lock(hashtextextended($1, 8))', [`${episode}/${party}`]);
  const { rows } = await db.query<{ window: string; gone: boolean }>(
    `select window_id as window, seen_at < now() - make_interval(secs => $3) as gone
       from open_window where episode_id = $1 and party = $2`,
    [episode, party, GONE_SECONDS],
  );
  return rows[0] ?? null;
}

/** Notes that a stream's window is still there; false when the place is no longer its own. */
export async function keepWindow(db: Querier, episode: string, party: string, stream: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'update open_window set seen_at = now() where episode_id = $1 and party = $2 and stream_id = $3',
    [episode, party, stream],
  );
  return rowCount === 1;
}

/** Gives a place back when its stream ends; nothing happens when another stream has it by now. */
export async function releaseWindow(pool: pg.Pool, episode: string, party: string, stream: string): Promise<void> {
  await inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ window: string }>(
      'delete from open_window where episode_id = $1 and party = $2 and stream_id = $3 returning window_id as window',
      [episode, party, stream],
    );
    if (rows.length > 0 && party !== DESK) {
      await tell(client, episode, DESK, { type: 'window-closed', seat: party, window: rows[0].window });
    }
  });
}

/** Shuts a seat's window: its link was revoked. */
export async function closeWindow(db: Querier, episode: string, party: string): Promise<void> {
  const { rows } = await db.query<{ window: string }>(
    'delete from open_window where episode_id = $1 and party = $2 returning window_id as window',
    [episode, party],
  );
  if (rows.length === 0) return;
  await tell(db, episode, party, { type: 'revoked' });
  await tell(db, episode, DESK, { type: 'window-closed', seat: party, window: rows[0].window });
}

/** The seats of an episode that have a window open now. */
export async function openWindows(db: Querier, episode: string): Promise<{ seat: string; window: string }[]> {
  const { rows } = await db.query<{ seat: string; window: string }>(
    `select party as seat, window_id as window from open_window
      where episode_id = $1 and party <> $2 and seen_at > now() - make_interval(secs => $3)`,
    [episode, DESK, GONE_SECONDS],
  );
  return rows;
}

/** Whether a window has a party's place. */
export async function holdsWindow(db: Querier, episode: string, party: string, window: string): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from open_window where episode_id = $1 and party = $2 and window_id = $3', [episode, party, window]);
  return rowCount === 1;
}

const tell = (db: Querier, episode: string, recipient: string, body: FromServer) =>
  putMessage(db, { episode, sender: SERVER, recipient, body });
