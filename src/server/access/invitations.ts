import { z } from '@/core/zod';
import type { Querier } from '../database';
import { closeHomes } from '../home/queries';
import { HttpError, notFound } from '../http/errors';
import { hashToken, looksLikeToken, newToken } from './tokens';

/** A guest: exactly one seat of one episode. */
export const guestRow = z.object({
  episode: z.uuid(),
  seat: z.string(),
  role: z.enum(['host', 'caller', 'producer']),
  name: z.string(),
  fullName: z.string(),
  title: z.string(),
  number: z.number(),
  show: z.string(),
  plannedAt: z.date().nullable(),
});
export type Guest = z.infer<typeof guestRow>;

const linkState = z.object({ revoked: z.boolean(), expired: z.boolean() });

/**
 * Whose link a token is. A link that expires while its guest is in keeps them in.
 * @throws {HttpError} 401 for no link of ours, 410 for a revoked or expired one
 */
export async function findGuest(db: Querier, token: string): Promise<Guest> {
  if (!looksLikeToken(token)) throw unknownLink();
  const { rows } = await db.query(
    `select episode.id as episode, seat.id as seat, seat.role, person.name, person.full_name as "fullName",
            episode.title, episode.number, show.name as show, episode.planned_at as "plannedAt",
            invitation.revoked_at is not null as revoked,
            invitation.expires_at <= now() and not exists (
              select 1 from open_window where open_window.episode_id = episode.id and party = seat.id
                 and seen_at > now() - interval '1 minute') as expired
       from invitation
       join seat on seat.episode_id = invitation.episode_id and seat.id = invitation.seat_id
       join person on person.id = seat.person_id
       join episode on episode.id = seat.episode_id
       join show on show.id = episode.show_id
      where invitation.token_hash = $1`,
    [hashToken(token)],
  );
  if (rows.length === 0) throw unknownLink();
  const { revoked, expired } = linkState.parse(rows[0]);
  if (revoked) throw new HttpError(410, 'link-revoked', 'This link is no longer in use. Ask your host for a new one.');
  if (expired) throw new HttpError(410, 'link-expired', 'This link has run out. Ask your host for a new one.');
  return guestRow.parse(rows[0]);
}

const unknownLink = () => new HttpError(401, 'link-unknown', 'This is not a link of ours. Check that it was copied whole, or ask your host for a new one.');

export interface NewInvitation {
  token: string;
  expiresAt: Date;
}

/** Makes a link for a seat; whatever link it had before stops working. @throws {HttpError} 404, 409 */
export async function issueInvitation(db: Querier, episode: string, seat: string, days: number): Promise<NewInvitation> {
  const { rows: seats } = await db.query<{ line: string }>(
    'select line from seat where episode_id = $1 and id = $2 for update',
    [episode, seat],
  );
  if (seats.length === 0) throw notFound('seat');
  if (seats[0].line !== 'link') throw new HttpError(409, 'no-link-line', 'Only a seat on a link line has a link. Change its line first.');
  await revokeInvitation(db, episode, seat);
  const { token, hash } = newToken();
  const { rows } = await db.query<{ expires_at: Date }>(
    `insert into invitation (episode_id, seat_id, token_hash, expires_at)
     select $1, $2, $3, greatest(now(), coalesce(planned_at, now())) + make_interval(days => $4)
       from episode where id = $1 returning expires_at`,
    [episode, seat, hash, days],
  );
  return { token, expiresAt: rows[0].expires_at };
}

/** Stops a seat's link; what its guest's own browser has recorded until now may still come. False when it had none. */
export async function revokeInvitation(db: Querier, episode: string, seat: string): Promise<boolean> {
  await closeHomes(db, episode, seat);
  const { rowCount } = await db.query(
    'update invitation set revoked_at = now() where episode_id = $1 and seat_id = $2 and revoked_at is null',
    [episode, seat],
  );
  return (rowCount ?? 0) > 0;
}

export async function markOpened(db: Querier, episode: string, seat: string): Promise<void> {
  await db.query('update invitation set opened_at = now() where episode_id = $1 and seat_id = $2 and revoked_at is null and opened_at is null', [episode, seat]);
}

const invitedRow = z.object({ seat: z.string(), expiresAt: z.date(), openedAt: z.date().nullable() });
export type Invited = z.infer<typeof invitedRow>;

/** The links of an episode that let somebody in. */
export async function listInvitations(db: Querier, episode: string): Promise<Invited[]> {
  const { rows } = await db.query(
    `select seat_id as seat, expires_at as "expiresAt", opened_at as "openedAt" from invitation
      where episode_id = $1 and revoked_at is null and expires_at > now()`,
    [episode],
  );
  return rows.map((row) => invitedRow.parse(row));
}
