import type { Querier } from '../database';
import type { Account } from './accounts';
import { hashToken, looksLikeToken, newToken } from './tokens';

export const SIGN_IN_COOKIE = 'brisk-lantern-sign-in';
const DAYS = 30;

/** The `set-cookie` text for a new sign-in, or one that ends it (null). */
export function signInCookie(token: string | null, secure: boolean): string {
  const age = token === null ? 0 : DAYS * 86400;
  return `${SIGN_IN_COOKIE}=${token ?? ''}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${age}${secure ? '; Secure' : ''}`;
}

/** Signs an account in; the token is for its browser alone. */
export async function beginSignIn(db: Querier, account: string): Promise<string> {
  const { token, hash } = newToken();
  await db.query(
    `insert into sign_in (token_hash, account_id, expires_at) values ($1, $2, now() + make_interval(days => $3))`,
    [hash, account, DAYS],
  );
  return token;
}

export async function findSignedIn(db: Querier, token: string): Promise<Account | null> {
  if (!looksLikeToken(token)) return null;
  const { rows } = await db.query<Account & Record<string, unknown>>(
    `select account.id, account.email, account.name
       from sign_in join account on account.id = sign_in.account_id
      where token_hash = $1 and expires_at > now()`,
    [hashToken(token)],
  );
  return rows[0] ?? null;
}

export async function endSignIn(db: Querier, token: string): Promise<void> {
  if (looksLikeToken(token)) await db.query('delete from sign_in where token_hash = $1', [hashToken(token)]);
}

/** Signs an account out in every browser. Returns in how many. */
export async function endAllSignIns(db: Querier, account: string): Promise<number> {
  const { rowCount } = await db.query('delete from sign_in where account_id = $1', [account]);
  return rowCount ?? 0;
}

/** The token in a `cookie` header. */
export function signInToken(cookieHeader: string | null): string {
  const found = (cookieHeader ?? '').split(/;\s*/).find((pair) => pair.startsWith(`${SIGN_IN_COOKIE}=`));
  return found?.slice(SIGN_IN_COOKIE.length + 1) ?? '';
}
