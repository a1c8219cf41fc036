/** The head of an HTTP/1.1 request. */
export interface RequestHead {
  method: string;
  path: string;
  query: URLSearchParams;
  headers: Record<string, string>;
}

/** No head is longer. */
const MOST_BYTES = 16_384;

/**
 * Reads the head at the beginning of what has come (RFC 9112, 2 to 5). Returns it with where the body begins, null while it is not
 * whole. @throws {Error} for anything else
 */
export function readHead(bytes: Buffer): { head: RequestHead; bodyAt: number } | null {
  const end = bytes.indexOf('\r\n\r\n');
  if (end < 0) {
    if (bytes.length > MOST_BYTES) throw new Error('The head of the request is too long.');
    return null;
  }
  const [first, ...lines] = bytes.subarray(0, end).toString('latin1').split('\r\n');
  const [, method, target] = /^([A-Z]+) (\/\S*) HTTP\/1\.[01]$/.exec(first) ?? [];
  if (!method) throw new Error('This is no request.');
  const url = new URL(target, 'http://here');
  const headers = Object.fromEntries(
    lines.map((line) => {
      const at = line.indexOf(':');
      if (at < 1) throw new Error('A header has no name.');
      return [line.slice(0, at).toLowerCase(), line.slice(at + 1).trim()];
    }),
  );
  return { head: { method, path: url.pathname, query: url.searchParams, headers }, bodyAt: end + 4 };
}

/** Takes a body in pieces apart (RFC 9112, 7.1) as it comes; `ended` once its last piece was there. */
export class ChunkedBody {
  #rest: Buffer = Buffer.alloc(0);
  /** Bytes of the piece that are still to come; with its line end. */
  #left = 0;
  ended = false;

  /** @throws {Error} when it is not in pieces */
  push(more: Buffer): Buffer {
    this.#rest = Buffer.concat([this.#rest, more]);
    const out: Buffer[] = [];
    while (!this.ended) {
      if (this.#left > 2) {
        const sound = this.#rest.subarray(0, Math.min(this.#left - 2, this.#rest.length));
        if (sound.length === 0) break;
        out.push(sound);
        this.#rest = this.#rest.subarray(sound.length);
        this.#left -= sound.length;
      } else if (this.#left > 0) {
        if (this.#rest.length < this.#left) break;
        this.#rest = this.#rest.subarray(this.#left);
        this.#left = 0;
      } else {
        const at = this.#rest.indexOf('\r\n');
        if (at < 0) break;
        const size = Number.parseInt(this.#rest.subarray(0, at).toString('latin1'), 16);
        if (!(size >= 0)) throw new Error('A piece of the body has no length.');
        this.#rest = this.#rest.subarray(at + 2);
        if (size === 0) this.ended = true;
        else this.#left = size + 2;
      }
    }
    return Buffer.concat(out);
  }
}
