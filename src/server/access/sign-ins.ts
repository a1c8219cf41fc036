import type { Querier } from '../database';
import type { Account } from './accounts';
import { hashToken, looksLikeToken, newToken } from './tokens';

export const SIGN_IN_COOKIE = 'brisk-lantern-sign-in';
const DAYS = 30;
const MOST_BROWSER_LETTERS = 300;

/** The `set-cookie` text for a new sign-in, or one that ends it (null). */
export function signInCookie(token: string | null, secure: boolean): string {
  const age = token === null ? 0 : DAYS * 86400;
  return `${SIGN_IN_COOKIE}=${token ?? ''}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${age}${secure ? '; Secure' : ''}`;
}

/** Signs an account in; the token is for its browser alone. */
export async function beginSignIn(db: Querier, account: string, browser = ''): Promise<string> {
  const { token, hash } = newToken();
  await db.query(
    `insert into sign_in (token_hash, account_id, expires_at, browser) values ($1, $2, now() + make_interval(days => $3), $4)`,
    [hash, account, DAYS, browser.slice(0, MOST_BROWSER_LETTERS)],
  );
  return token;
}

export async function findSignedIn(db: Querier, token: string): Promise<Account | null> {
  if (!looksLikeToken(token)) return null;
  const { rows } = await db.query<Account & Record<string, unknown>>(
    // When it was used last is known to ten minutes: no more is written.
    `with used as (update sign_in set seen_at = now() where token_hash = $1 and seen_at < now() - interval '10 minutes')
     select account.id, account.email, account.name
       from sign_in join account on account.id = sign_in.account_id
      where token_hash = $1 and expires_at > now()`,
    [hashToken(token)],
  );
  return rows[0] ?? null;
}

export async function endSignIn(db: Querier, token: string): Promise<void> {
  if (looksLikeToken(token)) await db.query('delete from sign_in where token_hash = $1', [hashToken(token)]);
}

/** A browser that is signed in. */
export interface OpenSignIn {
  id: string;
  /** As the browser calls itself. */
  browser: string;
  /** ISO 8601. */
  since: string;
  seenAt: string;
  /** The one that asks. */
  own: boolean;
}

export async function listSignIns(db: Querier, account: string, ownToken: string): Promise<OpenSignIn[]> {
  const { rows } = await db.query<{ id: string; browser: string; since: Date; seen_at: Date; own: boolean }>(
    'select id, browser, created_at as since, seen_at, token_hash = $2 as own from sign_in where account_id = $1 and expires_at > now() order by seen_at desc',
    [account, looksLikeToken(ownToken) ? hashToken(ownToken) : Buffer.alloc(0)],
  );
  return rows.map(({ seen_at, since, ...row }) => ({ ...row, since: since.toISOString(), seenAt: seen_at.toISOString() }));
}

/** Ends one of an account's own sign-ins. */
export async function endSignInOf(db: Querier, account: string, id: string): Promise<boolean> {
  const { rowCount } = await db.query('delete from sign_in where account_id = $1 and id = $2', [account, id]);
  return rowCount === 1;
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
