// The log of what runs outside the application's own code, in the same form: a line of JSON an event, from LOG_LEVEL on.
import { randomBytes } from 'node:crypto';
import pino from 'pino';

const level = process.env.LOG_LEVEL ?? 'warn';
export const log = pino({ level, base: { process: process.env.PROCESS_NAME ?? 'server' }, timestamp: pino.stdTimeFunctions.isoTime }, pino.destination({ dest: 2, sync: true }));

/** These pages' addresses let whoever has them in. */
const SECRET_PATHS = /^\/(join|colleague|reset)\/[^/]+/;
/** A path as it may be kept: without what lets anybody in, and without its query. */
export const plainPath = (url) => url.split('?', 1)[0].replace(SECRET_PATHS, '/$1/…');

/** Gives a request its id, which its answer and everything logged about it carry, and logs how it ended. */
export function noteRequest(request, response) {
  const id = randomBytes(6).toString('hex');
  request.headers['x-request-id'] = id;
  response.setHeader('x-request-id', id);
  if (!log.isLevelEnabled('info')) return;
  const began = performance.now();
  response.once('close', () => log.info({ request: id, method: request.method, path: plainPath(request.url ?? ''), status: response.statusCode, ms: Math.round(performance.now() - began), ...(response.writableFinished ? {} : { brokenOff: true }) }, 'answered'));
}
