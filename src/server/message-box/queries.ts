import type pg from 'pg';
import type { BoxMessage } from '@/core/lines/messages';
import { inTransaction, type Querier } from '../database';

export const WAKE_CHANNEL = 'message_box';

export interface NewMessage {
  episode: string;
  sender: string;
  recipient: string;
  body: object;
}

/**
 * Puts a message into the box and wakes its recipient, on whatever app instance. Ids of one episode
 * grow in the order of commits: a reader that asks for what follows an id misses nothing.
 */
export async function putMessage(db: Querier, message: NewMessage): Promise<number> {
  // Held until the end of the transaction, so that no later id is committed before an earlier one.
  await db.query('select pg_advisory_xact_lock(hashtextextended($1, 7))', [message.episode]);
  const { rows } = await db.query<{ id: string }>(
    `with put as (
       insert into message (episode_id, sender, recipient, body) values ($1, $2, $3, $4) returning id
     )
     select id, pg_notify($5, $1 || '/' || $3) from put`,
    [message.episode, message.sender, message.recipient, JSON.stringify(message.body), WAKE_CHANNEL],
  );
  return Number(rows[0].id);
}

export const postMessage = (pool: pg.Pool, message: NewMessage): Promise<number> =>
  inTransaction(pool, (client) => putMessage(client, message));

/** Messages for a recipient after an id, oldest first. */
export async function messagesAfter(db: Querier, episode: string, recipient: string, after: number): Promise<BoxMessage[]> {
  const { rows } = await db.query<{ id: string; sender: string; body: BoxMessage['body'] }>(
    `select id, sender, body from message
      where episode_id = $1 and recipient = $2 and id > $3 order by id limit 200`,
    [episode, recipient, after],
  );
  return rows.map(({ id, sender, body }) => ({ id: Number(id), sender, body }));
}

export async function newestMessage(db: Querier, episode: string): Promise<number> {
  const { rows } = await db.query<{ id: string }>('select coalesce(max(id), 0) as id from message where episode_id = $1', [episode]);
  return Number(rows[0].id);
}

/** How many messages a sender put in within the last seconds. */
export async function recentMessages(db: Querier, episode: string, sender: string, seconds: number): Promise<number> {
  const { rows } = await db.query<{ count: string }>(
    'select count(*) from message where episode_id = $1 and sender = $2 and sent_at > now() - make_interval(secs => $3)',
    [episode, sender, seconds],
  );
  return Number(rows[0].count);
}
