import { headers } from 'next/headers';
import { notFound, redirect } from 'next/navigation';
import { z } from '@/core/zod';
import type { Right, ShowRole } from '@/core/access/rights';
import type { Account } from './access/accounts';
import { accountOf, requireRight, type Subject } from './access/who';
import { database } from './database';
import { HttpError } from './http/errors';

/** Who asks for a page. A stranger is sent to sign in. */
export async function requirePageAccount(): Promise<Account> {
  return (await accountOf(database(), new Headers(await headers()))) ?? redirect('/sign-in');
}

/** Checks who asks for a page, as route handlers do. Whoever may not sees that there is nothing. */
export async function requirePage(right: Right, subject: Subject): Promise<{ account: Account; show: string; role: ShowRole }> {
  const account = await requirePageAccount();
  const member = await orNotFound(() => requireRight(database(), account, right, subject));
  return { account, ...member };
}

/** An id from a page's address; anything else is no page. */
export function pageId(value: string): string {
  return z.uuid().safeParse(value).success ? value : notFound();
}

/** What `load` finds; a page that does not exist where it finds nothing. */
export async function orNotFound<Result>(load: () => Promise<Result>): Promise<Result> {
  try {
    return await load();
  } catch (error) {
    if (error instanceof HttpError && error.status < 500) notFound();
    throw error;
  }
}
