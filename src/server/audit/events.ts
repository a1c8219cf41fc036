import { z } from '@/core/zod';
import type { Querier } from '../database';

export const EVENT_KINDS = ['sign-in', 'invitation', 'member', 'removal', 'export', 'password', 'station', 'take'] as const;
export type EventKind = (typeof EVENT_KINDS)[number];

export interface AuditEvent {
  /** ISO 8601. */
  at: string;
  who: string;
  kind: EventKind;
  /** What was done, without who: `made a link for Runa`. */
  words: string;
}

const MOST_SHOWN = 200;
const MOST_LETTERS = 300;

/** Notes what somebody did. @param show null for what belongs to no show, such as signing in */
export async function noteEvent(db: Querier, account: { id: string; name: string }, show: string | null, kind: EventKind, words: string): Promise<void> {
  await db.query('insert into audit_event (account_id, account_name, show_id, kind, words) values ($1, $2, $3, $4, $5)', [account.id, account.name, show, kind, words.slice(0, MOST_LETTERS)]);
}

const eventRow = z.object({ at: z.date(), who: z.string(), kind: z.enum(EVENT_KINDS), words: z.string() });

/** What was done in a show, and when those who work on it signed in, newest first. */
export async function listEvents(db: Querier, show: string): Promise<AuditEvent[]> {
  const { rows } = await db.query(
    `select at, account_name as who, kind, words from audit_event
      where show_id = $1 or (show_id is null and account_id in (select account_id from show_member where show_id = $1))
      order by id desc limit ${MOST_SHOWN}`,
    [show],
  );
  return rows.map((row) => {
    const { at, ...event } = eventRow.parse(row);
    return { ...event, at: at.toISOString() };
  });
}
