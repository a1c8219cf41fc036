import { headers } from 'next/headers';
import { notFound } from 'next/navigation';
import { z } from 'zod';
import { requireHost } from './http/access';
import { HttpError } from './http/errors';

/** Checks who asks for a page, as route handlers do. A stranger sees that there is nothing. */
export async function requirePageHost(): Promise<void> {
  await orNotFound(async () => requireHost(new Request('http://page', { headers: new Headers(await headers()) })));
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
