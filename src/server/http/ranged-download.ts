import { Readable } from 'node:stream';
import { HttpError } from './errors';

/** A file whose length is known before it is made, and that can be made from any byte on. */
export interface RangedFile {
  name: string;
  mediaType: string;
  bytes: number;
  /** The same for the same bytes only. */
  tag: string;
  /** Bytes `from` to `to` (exclusive). */
  pieces(from: number, to: number): AsyncIterable<Uint8Array>;
}

/**
 * A file as a download; one that broke off goes on with a range of bytes (RFC 9110, 14), or begins anew where the file is another
 * one by now. @throws {HttpError} 416
 */
export function rangedDownload(request: Request, file: RangedFile): Response {
  const tag = `"${file.tag}"`;
  const same = [null, tag].includes(request.headers.get('if-range'));
  const range = same ? rangeOf(request.headers.get('range'), file.bytes) : null;
  const [from, to] = range ?? [0, file.bytes];
  return new Response(Readable.toWeb(Readable.from(file.pieces(from, to), { objectMode: false })) as ReadableStream, {
    status: range ? 206 : 200,
    headers: {
      'content-type': file.mediaType,
      'content-length': String(to - from),
      'accept-ranges': 'bytes',
      etag: tag,
      'cache-control': 'no-store',
      'content-disposition': `attachment; filename="${file.name}"`,
      ...(range ? { 'content-range': `bytes ${from}-${to - 1}/${file.bytes}` } : {}),
    },
  });
}

/** A stretch of what is made from its beginning; what lies outside it is left out. */
export async function* stretchOf(pieces: AsyncIterable<Uint8Array>, from: number, to: number): AsyncGenerator<Uint8Array> {
  let at = 0;
  for await (const piece of pieces) {
    const wanted = piece.subarray(Math.max(0, from - at), Math.max(0, to - at));
    if (wanted.length > 0) yield wanted;
    at += piece.length;
    if (at >= to) return;
  }
}

/** One range, as first byte and the one after the last. @throws {HttpError} 416 */
function rangeOf(header: string | null, bytes: number): [number, number] | null {
  const match = /^bytes=(\d+)-(\d*)$/.exec(header ?? '');
  if (!match) return null;
  const from = Number(match[1]);
  const to = match[2] === '' ? bytes : Math.min(bytes, Number(match[2]) + 1);
  if (from >= to) throw new HttpError(416, 'range', `This file has ${bytes} bytes.`);
  return [from, to];
}
