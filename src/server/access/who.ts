import { mayIn, type Right, type ShowRole } from '@/core/access/rights';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { countAttempt } from './attempts';
import { findDemoAccount, roleIn, type Account } from './accounts';
import { callerAddress, fromThisMachine } from './caller-address';
import { findGuest, type Guest } from './invitations';
import { homeOfKey, type HomeRow } from '../home/queries';
import { findSignedIn, signInToken } from './sign-ins';
import { hashToken, looksLikeToken } from './tokens';

/** Whether the server runs the demo, which signs its host in by itself on this machine. */
export const isDemo = (): boolean => process.env.DEMO === '1';

/** The account that asks: signed in, or the demo's host at this machine; null for a stranger. */
export async function accountOf(db: Querier, headers: Headers): Promise<Account | null> {
  const token = signInToken(headers.get('cookie'));
  const signedIn = token === '' ? null : await findSignedIn(db, token);
  if (signedIn) return signedIn;
  return isDemo() && fromThisMachine(headers) ? findDemoAccount(db) : null;
}

/** @throws {HttpError} 401 for a stranger */
export async function requireAccount(db: Querier, headers: Headers): Promise<Account> {
  const account = await accountOf(db, headers);
  if (!account) throw new HttpError(401, 'sign-in', 'Sign in first.');
  return account;
}

/** What a request is about; the show it belongs to says who may. */
export interface Subject {
  show?: string;
  episode?: string;
  take?: string;
  sound?: string;
}

const SHOW_OF: Record<keyof Subject, string> = {
  show: 'select id from show where id = $1',
  episode: 'select show_id as id from episode where id = $1',
  take: 'select show_id as id from episode join take on take.episode_id = episode.id where take.id = $1',
  sound: 'select show_id as id from sound where id = $1',
};

/**
 * The role an account has in the show of a subject. What belongs to somebody else does not exist.
 * @throws {HttpError} 404, or 403 when the role may not
 */
export async function requireRight(db: Querier, account: Account, right: Right, subject: Subject): Promise<{ show: string; role: ShowRole }> {
  const kind = (['episode', 'take', 'show', 'sound'] as const).find((one) => subject[one] !== undefined);
  if (!kind) throw new Error('A right is always asked for in a show.');
  const { rows } = await db.query<{ id: string }>(SHOW_OF[kind], [subject[kind]]);
  const role = rows.length === 0 ? null : await roleIn(db, rows[0].id, account.id);
  if (role === null) throw notFound(kind);
  if (!mayIn(role, right)) throw new HttpError(403, 'not-allowed', REFUSALS[right]);
  return { show: rows[0].id, role };
}

const REFUSALS: Record<Right, string> = {
  watch: 'You may not see this show.',
  'talk-back': 'You may not talk into this call.',
  work: 'You may watch this desk, not work it. A host of the show can.',
  record: 'You may not record or change takes. A host of the show can.',
  invite: 'You may not change who is invited. A host of the show can.',
  members: 'Only an owner of the show says who may work on it.',
};

/** Guesses at links, from one address. */
const LINK_GUESSES = { most: 40, seconds: 600 };

/** The guest whose link a request carries. @throws {HttpError} 401, 410, or 429 after many wrong ones */
export async function requireGuest(db: Querier, headers: Headers): Promise<Guest> {
  const token = /^Bearer (\S+)$/.exec(headers.get('authorization') ?? '')?.[1] ?? '';
  return guestOfToken(db, token, headers);
}

/** The recording at home whose key a request carries. @throws {HttpError} 404 */
export async function requireHome(db: Querier, headers: Headers, id: string): Promise<HomeRow> {
  const key = /^Bearer (\S+)$/.exec(headers.get('authorization') ?? '')?.[1] ?? '';
  const home = looksLikeToken(key) ? await homeOfKey(db, hashToken(key)) : null;
  if (home?.id !== id) throw notFound('recording');
  return home;
}

export async function guestOfToken(db: Querier, token: string, headers: Headers): Promise<Guest> {
  try {
    return await findGuest(db, token);
  } catch (error) {
    if (error instanceof HttpError && error.code === 'link-unknown') {
      await countAttempt(db, { bucket: `link/${callerAddress(headers)}`, ...LINK_GUESSES });
    }
    throw error;
  }
}
