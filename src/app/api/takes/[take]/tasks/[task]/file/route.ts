import { Readable } from 'node:stream';
import { database } from '@/server/database';
import { fileBytes, findFile } from '@/server/exports/store-file';
import { HttpError } from '@/server/http/errors';
import { taskParams } from '@/server/http/params';
import { route } from '@/server/http/route';

/** The file a task made; a download that broke off goes on with a range of bytes (RFC 9110, 14). */
export const GET = route({ right: 'watch', params: taskParams }, async ({ params, request }) => {
  const file = await findFile(database(), params.take, params.task);
  const range = rangeOf(request.headers.get('range'), file.bytes);
  const [from, to] = range ?? [0, file.bytes];
  const body = Readable.toWeb(Readable.from(fileBytes(database(), params.task, from, to), { objectMode: false })) as ReadableStream;
  return new Response(body, {
    status: range ? 206 : 200,
    headers: {
      'content-type': file.mediaType,
      'content-length': String(to - from),
      'accept-ranges': 'bytes',
      etag: `"${params.task}"`,
      'cache-control': 'no-store',
      'content-disposition': `attachment; filename="${file.name}"`,
      ...(range ? { 'content-range': `bytes ${from}-${to - 1}/${file.bytes}` } : {}),
    },
  });
});

/** One range, as first byte and the one after the last. @throws {HttpError} 416 */
function rangeOf(header: string | null, bytes: number): [number, number] | null {
  const match = /^bytes=(\d+)-(\d*)$/.exec(header ?? '');
  if (!match) return null;
  const from = Number(match[1]);
  const to = match[2] === '' ? bytes : Math.min(bytes, Number(match[2]) + 1);
  if (from >= to) throw new HttpError(416, 'range', `This file has ${bytes} bytes.`);
  return [from, to];
}
