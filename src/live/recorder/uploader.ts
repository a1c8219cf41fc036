/** A chunk on its way to the server. */
export interface OutgoingChunk {
  take: string;
  track: string;
  index: number;
  bytes: Uint8Array<ArrayBuffer>;
}

/** The server will not take this chunk however often it is sent. */
export class RefusedError extends Error {}

export interface Uploader {
  /** Queues a chunk; it is sent until it is stored, several at a time. */
  send(chunk: OutgoingChunk): void;
  /** Resolves when every queued chunk is stored. @throws {RefusedError} when one was refused */
  idle(): Promise<void>;
}

export interface UploaderOptions {
  onStored(chunk: OutgoingChunk): void;
  /** Called when the server cannot be reached and a chunk has to wait. */
  onWaiting(message: string): void;
  fetch?: typeof fetch;
  /** Waits between tries; replaced in tests. */
  pause?(milliseconds: number): Promise<void>;
}

const AT_ONCE = 4;
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 8000;

export function createUploader(options: UploaderOptions): Uploader {
  const request = options.fetch ?? fetch;
  const pause = options.pause ?? ((ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms)));
  const queue: OutgoingChunk[] = [];
  const waiting: { resolve: () => void; reject: (error: Error) => void }[] = [];
  let sending = 0;
  let refused: RefusedError | null = null;

  const settle = (): void => {
    if (refused) for (const { reject } of waiting.splice(0)) reject(refused);
    else if (sending === 0 && queue.length === 0) for (const { resolve } of waiting.splice(0)) resolve();
  };

  const sendOne = async (chunk: OutgoingChunk): Promise<void> => {
    const sha256 = hex(await crypto.subtle.digest('SHA-256', chunk.bytes));
    for (let wait = FIRST_PAUSE_MS; ; wait = Math.min(wait * 2, LONGEST_PAUSE_MS)) {
      const problem = await put(chunk, sha256);
      if (problem === null) return options.onStored(chunk);
      options.onWaiting(problem);
      await pause(wait);
    }
  };

  /** Null when the chunk is stored, else why it should be tried again. */
  const put = async (chunk: OutgoingChunk, sha256: string): Promise<string | null> => {
    let response: Response;
    try {
      response = await request(`/api/takes/${chunk.take}/tracks/${chunk.track}/chunks/${chunk.index}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/octet-stream', 'x-chunk-sha256': sha256 },
        body: chunk.bytes,
      });
    } catch {
      return 'The server cannot be reached.';
    }
    if (response.ok) return null;
    const { code, message } = (await response.json().catch(() => ({}))) as { code?: string; message?: string };
    // Damage on the way and failures of the server pass; anything else will not.
    if (response.status >= 500 || response.status === 429 || code === 'checksum') {
      return message ?? `The server answered ${response.status}.`;
    }
    throw new RefusedError(message ?? `The server refused a chunk (${response.status}).`);
  };

  const pump = (): void => {
    while (sending < AT_ONCE && queue.length > 0 && !refused) {
      const chunk = queue.shift()!;
      sending++;
      sendOne(chunk)
        .catch((error: Error) => {
          refused ??= error instanceof RefusedError ? error : new RefusedError(error.message);
        })
        .finally(() => {
          sending--;
          pump();
          settle();
        });
    }
  };

  return {
    send(chunk) {
      queue.push(chunk);
      pump();
    },
    idle: () =>
      new Promise((resolve, reject) => {
        waiting.push({ resolve, reject });
        settle();
      }),
  };
}

function hex(bytes: ArrayBuffer): string {
  return Array.from(new Uint8Array(bytes), (byte) => byte.toString(16).padStart(2, '0')).join('');
}
