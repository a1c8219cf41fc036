import type pg from 'pg';
import { inTransaction, type Querier } from '../database';
import { HttpError } from '../http/errors';
import { endAllSignIns } from './sign-ins';
import { hashToken, looksLikeToken, newToken } from './tokens';

const HOURS = 2;

/** Makes a link's token for somebody who forgot their password; earlier ones end. Null where nobody has this address. */
export async function makeReset(db: Querier, email: string): Promise<string | null> {
  const { token, hash } = newToken();
  await db.query('delete from password_reset where account_id = (select id from account where email = $1)', [email.toLowerCase()]);
  const { rowCount } = await db.query(
    'insert into password_reset (token_hash, account_id, expires_at) select $1, id, now() + make_interval(hours => $3) from account where email = $2',
    [hash, email.toLowerCase(), HOURS],
  );
  return rowCount === 1 ? token : null;
}

/** Sets a password by such a link, which is used up; whoever was signed in is no more. @throws {HttpError} 403 */
export async function resetPassword(pool: pg.Pool, token: string, passwordHash: string): Promise<string> {
  return inTransaction(pool, async (db) => {
    const { rows } = looksLikeToken(token)
      ? await db.query<{ account_id: string }>('delete from password_reset where token_hash = $1 and expires_at > now() returning account_id', [hashToken(token)])
      : { rows: [] };
    if (rows.length === 0) throw new HttpError(403, 'link-used', 'This link was used or has run out. Ask whoever runs this server for a new one.');
    await setPassword(db, rows[0].account_id, passwordHash);
    return rows[0].account_id;
  });
}

/** Another password; every sign-in there was ends. Only within a transaction. */
export async function setPassword(db: Querier, account: string, passwordHash: string): Promise<void> {
  await db.query('update account set password_hash = $2 where id = $1', [account, passwordHash]);
  await endAllSignIns(db, account);
}
