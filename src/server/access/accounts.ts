import { z } from '@/core/zod';
import { listInWords } from '@/core/hearing/names';
import { SHOW_ROLES, type ShowRole } from '@/core/access/rights';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';

const accountRow = z.object({ id: z.uuid(), email: z.string(), name: z.string() });
export type Account = z.infer<typeof accountRow>;

const ACCOUNT = 'select account.id, account.email, account.name from account';

/** Whether anybody can sign in: the demo's own account has no password and cannot. */
export async function anyAccount(db: Querier): Promise<boolean> {
  const { rowCount } = await db.query('select 1 from account where password_hash is not null limit 1');
  return rowCount === 1;
}

export async function findPasswordHash(db: Querier, email: string): Promise<{ id: string; hash: string | null } | null> {
  const { rows } = await db.query<{ id: string; hash: string | null }>(
    'select id, password_hash as hash from account where email = $1',
    [email.toLowerCase()],
  );
  return rows[0] ?? null;
}

export async function findAccount(db: Querier, id: string): Promise<Account | null> {
  const { rows } = await db.query(`${ACCOUNT} where id = $1`, [id]);
  return rows.length === 0 ? null : accountRow.parse(rows[0]);
}

/** The account without a password that the demo comes with, or null. */
export async function findDemoAccount(db: Querier): Promise<Account | null> {
  const { rows } = await db.query(`${ACCOUNT} where password_hash is null order by created_at limit 1`);
  return rows.length === 0 ? null : accountRow.parse(rows[0]);
}

export interface NewAccount {
  email: string;
  name: string;
  passwordHash: string | null;
}

/** @throws {HttpError} 409 when somebody has that e-mail address */
export async function insertAccount(db: Querier, account: NewAccount): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    `insert into account (email, name, password_hash) values ($1, $2, $3)
     on conflict (email) do nothing returning id`,
    [account.email.toLowerCase(), account.name, account.passwordHash],
  );
  if (rows.length === 0) throw new HttpError(409, 'email-taken', 'There is an account with this e-mail address already. Sign in with it.');
  return rows[0].id;
}

export async function roleIn(db: Querier, show: string, account: string): Promise<ShowRole | null> {
  const { rows } = await db.query<{ role: ShowRole }>('select role from show_member where show_id = $1 and account_id = $2', [show, account]);
  return rows[0]?.role ?? null;
}

/** Makes somebody a member; who is one already keeps their role unless this one is higher. */
export async function setMember(db: Querier, show: string, account: string, role: ShowRole): Promise<void> {
  await db.query(
    `insert into show_member (show_id, account_id, role) values ($1, $2, $3)
     on conflict (show_id, account_id) do update set role = excluded.role
      where array_position($4::text[], excluded.role) < array_position($4::text[], show_member.role)`,
    [show, account, role, ROLES_FROM_THE_TOP],
  );
}

const ROLES_FROM_THE_TOP: ShowRole[] = ['owner', 'host', 'producer'];

const memberRow = accountRow.extend({ role: z.enum(SHOW_ROLES) });
export type Member = z.infer<typeof memberRow>;

export async function listMembers(db: Querier, show: string): Promise<Member[]> {
  const { rows } = await db.query(
    `select account.id, account.email, account.name, show_member.role
       from show_member join account on account.id = show_member.account_id
      where show_id = $1 order by account.name`,
    [show],
  );
  return rows.map((row) => memberRow.parse(row));
}

/** Whoever may no longer be an owner leaves another one behind. @throws {HttpError} 404, 409 for the last owner */
async function requireAnotherOwner(db: Querier, show: string, account: string): Promise<void> {
  // One at a time: two owners who take each other off at once would leave none.
  await db.query('select 1 from show where id = $1 for update', [show]);
  const { rows } = await db.query<{ owners: string; role: string | null }>(
    `select (select count(*) from show_member where show_id = $1 and role = 'owner') as owners,
            (select role from show_member where show_id = $1 and account_id = $2) as role`,
    [show, account],
  );
  if (rows[0].role === null) throw notFound('colleague');
  if (rows[0].role === 'owner' && rows[0].owners === '1') {
    throw new HttpError(409, 'last-owner', 'A show keeps at least one owner.');
  }
}

/** Takes somebody off a show, and back the links they made. Only within a transaction. @throws {HttpError} 409 for its last owner */
export async function removeMember(db: Querier, show: string, account: string): Promise<void> {
  await requireAnotherOwner(db, show, account);
  await db.query('delete from show_member where show_id = $1 and account_id = $2', [show, account]);
  await db.query('update colleague_link set revoked_at = now() where show_id = $1 and made_by = $2 and revoked_at is null and used_at is null', [show, account]);
}

/** Gives a colleague another role. Only within a transaction. @throws {HttpError} 404, 409 for the show's last owner */
export async function changeRole(db: Querier, show: string, account: string, role: ShowRole): Promise<void> {
  if (role !== 'owner') await requireAnotherOwner(db, show, account);
  const { rowCount } = await db.query('update show_member set role = $3 where show_id = $1 and account_id = $2', [show, account, role]);
  if (rowCount === 0) throw notFound('colleague');
}

/**
 * Deletes an account with its sign-ins, keys and memberships; its shows stay with their other owners. Only within a transaction.
 * @throws {HttpError} 409 for the only owner of a show
 */
export async function deleteAccount(db: Querier, account: string): Promise<void> {
  const { rows } = await db.query<{ id: string; name: string; alone: boolean }>(
    `select show.id, show.name, not exists (select from show_member other where other.show_id = show.id and other.role = 'owner' and other.account_id <> $1) as alone
       from show_member join show on show.id = show_member.show_id
      where account_id = $1 and role = 'owner' order by show.name for update of show`,
    [account],
  );
  const alone = rows.filter((show) => show.alone).map(({ name }) => name);
  if (alone.length > 0) throw new HttpError(409, 'only-owner', `You are the only owner of ${listInWords(alone)}. Make somebody else an owner first, or remove the show.`);
  await db.query('delete from account where id = $1', [account]);
}

/** A link that makes a colleague a member when it is used. */
export async function insertColleagueLink(db: Querier, show: string, maker: string, role: ShowRole, hash: Buffer, days: number): Promise<Date> {
  const { rows } = await db.query<{ expires_at: Date }>(
    `insert into colleague_link (show_id, made_by, role, token_hash, expires_at)
     values ($1, $5, $2, $3, now() + make_interval(days => $4)) returning expires_at`,
    [show, role, hash, days, maker],
  );
  return rows[0].expires_at;
}

/** Links that let a colleague in: not used, run out or taken back, and made by somebody who may still say who works on the show. */
const IN_FORCE = `used_at is null and revoked_at is null and colleague_link.expires_at > now()
  and (made_by is null or exists (
    select 1 from show_member maker where maker.show_id = colleague_link.show_id and maker.account_id = made_by and maker.role = 'owner'))`;

/** Which show and role a colleague's link stands for; null when it lets nobody in. */
export async function findColleagueLink(db: Querier, hash: Buffer): Promise<{ show: string; role: ShowRole; showName: string } | null> {
  const { rows } = await db.query<{ show: string; role: ShowRole; showName: string }>(
    `select show.id as show, show.name as "showName", colleague_link.role
       from colleague_link join show on show.id = colleague_link.show_id
      where token_hash = $1 and ${IN_FORCE}`,
    [hash],
  );
  return rows[0] ?? null;
}

/** Uses a colleague's link up; false when somebody was faster, or it lets nobody in. */
export async function spendColleagueLink(db: Querier, hash: Buffer): Promise<boolean> {
  const { rowCount } = await db.query(`update colleague_link set used_at = now() where token_hash = $1 and ${IN_FORCE}`, [hash]);
  return rowCount === 1;
}

export interface ColleagueLink {
  id: string;
  role: ShowRole;
  /** Who made it; null where an earlier version did not note that. */
  madeBy: string | null;
  expiresAt: Date;
}

/** The links of a show that would let a colleague in. */
export async function listColleagueLinks(db: Querier, show: string): Promise<ColleagueLink[]> {
  const { rows } = await db.query<ColleagueLink & Record<string, unknown>>(
    `select colleague_link.id, colleague_link.role, account.name as "madeBy", colleague_link.expires_at as "expiresAt"
       from colleague_link left join account on account.id = made_by
      where show_id = $1 and ${IN_FORCE} order by colleague_link.expires_at limit 200`,
    [show],
  );
  return rows;
}

/** Takes a colleague's link back. @throws {HttpError} 404 */
export async function revokeColleagueLink(db: Querier, show: string, link: string): Promise<void> {
  const { rowCount } = await db.query('update colleague_link set revoked_at = now() where show_id = $1 and id = $2 and used_at is null and revoked_at is null', [show, link]);
  if (rowCount === 0) throw notFound('link');
}
