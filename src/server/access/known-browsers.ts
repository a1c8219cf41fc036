import type { Querier } from '../database';
import { hashToken, looksLikeToken, newToken } from './tokens';

export const KNOWN_BROWSER_COOKIE = 'brisk-lantern-browser';
/** A browser that nobody signed in with for so long is forgotten. */
export const KNOWN_BROWSER_DAYS = 400;

/** The `set-cookie` text by which a browser is known again. */
export const knownBrowserCookie = (token: string, secure: boolean): string => `${KNOWN_BROWSER_COOKIE}=${token}; Path=/api/sign-in; HttpOnly; SameSite=Strict; Max-Age=${KNOWN_BROWSER_DAYS * 86400}${secure ? '; Secure' : ''}`;

const tokenIn = (cookieHeader: string | null): string => new RegExp(`(?:^|;\\s*)${KNOWN_BROWSER_COOKIE}=([^;]*)`).exec(cookieHeader ?? '')?.[1] ?? '';

/** Whether somebody has signed in to this account with the browser that asks. */
export async function isKnownBrowser(db: Querier, account: string, cookieHeader: string | null): Promise<boolean> {
  const token = tokenIn(cookieHeader);
  if (!looksLikeToken(token)) return false;
  const { rowCount } = await db.query('update known_browser set seen_at = now() where token_hash = $1 and account_id = $2', [hashToken(token), account]);
  return rowCount === 1;
}

/** Knows a browser from now on; returns what it is known by. */
export async function knowBrowser(db: Querier, account: string): Promise<string> {
  const { token, hash } = newToken();
  await db.query('insert into known_browser (token_hash, account_id) values ($1, $2)', [hash, account]);
  return token;
}
