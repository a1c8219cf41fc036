import type { IncomingMessage } from 'node:http';
import { Readable } from 'node:stream';
import { mediaTypeOf, stationSchema } from '@/core/air/station';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { requestTo } from './source-connection';
import { targetOf } from './target';

const ANSWER_WITHIN_MS = 8000;

/** What a station's listeners get, passed on as it comes for as long as somebody listens. @throws {HttpError} 404, 502 */
export async function listenTo(db: Querier, episode: string, broadcast: string, signal: AbortSignal): Promise<Response> {
  const { rows } = await db.query<{ settings: unknown }>('select settings from broadcast where episode_id = $1 and id = $2 and ended_at is null', [episode, broadcast]);
  if (rows.length === 0) throw notFound('broadcast on the air');
  const { address, coding } = stationSchema.parse(rows[0].settings);
  const away = (words: string) => new HttpError(502, 'station-away', words);
  const target = await targetOf(address).catch((error: Error) => Promise.reject(away(error.message)));
  const response = await new Promise<IncomingMessage>((resolve, reject) => {
    const request = requestTo(target, { method: 'GET', path: target.url.pathname, headers: { 'user-agent': 'Brisk Lantern' }, signal });
    const late = setTimeout(() => request.destroy(new Error('it does not answer')), ANSWER_WITHIN_MS);
    request.on('response', (found) => {
      clearTimeout(late);
      resolve(found);
    });
    request.on('error', (error) => {
      clearTimeout(late);
      reject(away(`The station’s server cannot be heard: ${error.message}.`));
    });
    request.end();
  });
  if (response.statusCode !== 200) {
    response.destroy();
    throw away(`The station’s server gives nothing to listeners yet (${response.statusCode}).`);
  }
  // Whoever listened went away, or the stream ended: neither is a fault.
  response.on('error', () => response.destroy());
  // As what we sent there, whatever that server calls it: nothing from elsewhere becomes a page of ours.
  return new Response(Readable.toWeb(response) as ReadableStream, { headers: { 'content-type': mediaTypeOf(coding), 'cache-control': 'no-store' } });
}
