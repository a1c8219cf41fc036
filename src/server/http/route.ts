import type { z } from 'zod';
import { requireHost } from './access';
import { errorResponse, HttpError } from './errors';

interface Context {
  params: Promise<Record<string, string>>;
}

type Handler = (request: Request, context: Context) => Promise<Response>;

interface RouteOptions<Params, Query> {
  params: z.ZodType<Params>;
  query?: z.ZodType<Query>;
}

/**
 * A route handler that knows who is asking and has checked the address before `handle` runs, and
 * that answers every error in the same form.
 */
export function route<Params, Query = unknown>(
  options: RouteOptions<Params, Query>,
  handle: (input: { params: Params; query: Query; request: Request }) => Promise<Response>,
): Handler {
  return async (request, context) => {
    try {
      requireHost(request);
      const params = check(options.params, (await context.params) ?? {}, 'address');
      const search = Object.fromEntries(new URL(request.url).searchParams);
      const query = options.query ? check(options.query, search, 'query') : (search as Query);
      return await handle({ params, query, request });
    } catch (error) {
      return errorResponse(error);
    }
  };
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
  const tooLarge = () =>
    new HttpError(413, 'too-large', `The request is larger than the ${limitBytes} bytes taken here.`);
  if (Number(request.headers.get('content-length') ?? 0) > limitBytes) throw tooLarge();
  const parts: Uint8Array[] = [];
  let length = 0;
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    length += part.length;
    // The announced length may lie, or be absent.
    if (length > limitBytes) throw tooLarge();
    parts.push(part);
  }
  const bytes = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

function check<Value>(schema: z.ZodType<Value>, value: unknown, what: string): Value {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issues = result.error.issues.map(({ path, code, message }) => ({ path: path.join('.'), code, message }));
  const first = issues[0];
  const where = first.path === '' ? '' : `${first.path}: `;
  throw new HttpError(400, 'not-valid', `The ${what} is not valid. ${where}${first.message}`, issues);
}
