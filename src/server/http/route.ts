import type { z } from '@/core/zod';
import { joinBytes } from '@/core/formats/join-bytes';
import type { Right, ShowRole } from '@/core/access/rights';
import type { Account } from '../access/accounts';
import type { Guest } from '../access/invitations';
import { requireAccount, requireGuest, requireHome, requireRight, type Subject } from '../access/who';
import { database } from '../database';
import type { HomeRow } from '../home/queries';
import { requireOwnOrigin } from './access';
import { errorResponse, HttpError } from './errors';

interface Context {
  params: Promise<Record<string, string>>;
}

type Handler = (request: Request, context: Context) => Promise<Response>;

interface Address<Params, Query> {
  params: z.ZodType<Params>;
  query?: z.ZodType<Query>;
}

interface Asked<Params, Query> {
  params: Params;
  query: Query;
  request: Request;
}

/**
 * A route handler for members of a show who have the right: who is asking and the address are
 * checked before `handle` runs, and every error is answered in the same form.
 */
export function route<Params extends Subject, Query = unknown>(
  options: Address<Params, Query> & { right: Right },
  handle: (asked: Asked<Params, Query> & { account: Account; show: string; role: ShowRole }) => Promise<Response>,
): Handler {
  return answered(async (request, context) => {
    const account = await requireAccount(database(), request.headers);
    const params = await addressOf(options, context);
    const member = await requireRight(database(), account, options.right, params);
    // Whoever may not is told so, and not what else is wrong.
    return handle({ params, query: queryOf(options.query, request), request, ...member, account });
  });
}

/** A route handler for whoever is signed in. */
export function accountRoute<Params, Query = unknown>(
  options: Address<Params, Query>,
  handle: (asked: Asked<Params, Query> & { account: Account }) => Promise<Response>,
): Handler {
  return answered(async (request, context) => {
    const account = await requireAccount(database(), request.headers);
    return handle({ params: await addressOf(options, context), query: queryOf(options.query, request), request, account });
  });
}

/** A route handler for a guest: their own seat and nothing else. */
export function guestRoute<Query = unknown>(
  options: { query?: z.ZodType<Query> },
  handle: (asked: { guest: Guest; query: Query; request: Request }) => Promise<Response>,
): Handler {
  return answered(async (request) => {
    const guest = await requireGuest(database(), request.headers);
    return handle({ guest, query: queryOf(options.query, request), request });
  });
}

/** A route handler for the browser that makes a recording at home: that one recording and nothing else. */
export function homeRoute<Params extends { home: string }>(
  params: z.ZodType<Params>,
  handle: (asked: { home: HomeRow; params: Params; request: Request }) => Promise<Response>,
): Handler {
  return answered(async (request, context) => {
    const asked = await addressOf({ params }, context);
    return handle({ home: await requireHome(database(), request.headers, asked.home), params: asked, request });
  });
}

/** A route handler that anybody may ask. */
export function openRoute(handle: (request: Request) => Promise<Response>): Handler {
  return answered((request) => handle(request));
}

function answered(handle: Handler): Handler {
  return async (request, context) => {
    try {
      requireOwnOrigin(request);
      return await handle(request, context);
    } catch (error) {
      return errorResponse(error, request.headers.get('x-request-id') ?? '');
    }
  };
}

async function addressOf<Params>({ params }: { params: z.ZodType<Params> }, context: Context): Promise<Params> {
  return check(params, (await context.params) ?? {}, 'address');
}

function queryOf<Query>(schema: z.ZodType<Query> | undefined, request: Request): Query {
  const search = Object.fromEntries(new URL(request.url).searchParams);
  return schema ? check(schema, search, 'query') : (search as Query);
}

/** The JSON body of a request, checked. @throws {HttpError} 400 or 413 */
export async function readJson<Body>(request: Request, schema: z.ZodType<Body>, limitBytes = 262144): Promise<Body> {
  const bytes = await readBytes(request, limitBytes);
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new HttpError(400, 'not-json', `The request is not JSON: ${(cause as Error).message}`);
  }
  return check(schema, value, 'request');
}

/** The body of a request. @throws {HttpError} 413 when it is longer than the limit */
export async function readBytes(request: Request, limitBytes: number): Promise<Uint8Array<ArrayBuffer>> {
  const parts: Uint8Array[] = [];
  for await (const part of readParts(request, limitBytes)) parts.push(part);
  return joinBytes(parts);
}

/** The body of a request as it comes. @throws {HttpError} 413 when it is longer than the limit */
export async function* readParts(request: Request, limitBytes: number): AsyncGenerator<Uint8Array> {
  const tooLarge = () =>
    new HttpError(413, 'too-large', `The request is larger than the ${limitBytes} bytes taken here.`);
  if (Number(request.headers.get('content-length') ?? 0) > limitBytes) throw tooLarge();
  let length = 0;
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    length += part.length;
    // The announced length may lie, or be absent.
    if (length > limitBytes) throw tooLarge();
    yield part;
  }
}

/** PostgreSQL keeps every text but one with this character in it. */
function holdsNul(value: unknown): boolean {
  if (typeof value === 'string') return value.includes('\0');
  if (typeof value !== 'object' || value === null) return false;
  return Object.entries(value).some(([key, inner]) => key.includes('\0') || holdsNul(inner));
}

/** A value as its schema has it. @throws {HttpError} 400, saying what of `what` is not valid */
export function check<Value>(schema: z.ZodType<Value>, value: unknown, what: string): Value {
  if (holdsNul(value)) throw new HttpError(400, 'not-valid', `The ${what} is not valid. It holds a character that no text can have (NUL).`, [{ path: '', code: 'nul', message: 'holds NUL' }]);
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issues = result.error.issues.map(({ path, code, message }) => ({ path: path.join('.'), code, message }));
  const first = issues[0];
  const where = first.path === '' ? '' : `${first.path}: `;
  throw new HttpError(400, 'not-valid', `The ${what} is not valid. ${where}${first.message}`, issues);
}
