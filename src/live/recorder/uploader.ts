import { pause } from '../pause';
import { problemWith, type Problem } from './answer';
import { MOST_IN_PARCEL, PARCEL_BYTES, PARCEL_HEADER, type ParcelEntry } from '@/core/takes/parcel';

/** Where a chunk belongs. */
export interface ChunkPlace {
  take: string;
  track: string;
  index: number;
}

/** A chunk on its way to the server. */
export interface OutgoingChunk extends ChunkPlace {
  bytes: Uint8Array<ArrayBuffer>;
}

/** A chunk whose turn has not come; its sound may have been let go of. */
interface WaitingChunk extends ChunkPlace {
  length: number;
  bytes: Uint8Array<ArrayBuffer> | null;
}

/** The server will not take this chunk however often it is sent. */
export class RefusedError extends Error {}

export interface Uploader {
  /** Queues a chunk; it is sent until it is stored, several at a time. */
  send(chunk: OutgoingChunk): void;
  /** Sound that waits for its turn in memory, bytes. */
  waitingBytes(): number;
  /** Lets go of the sound of waiting chunks that can be had again from elsewhere. */
  letGo(isElsewhere: (chunk: ChunkPlace) => boolean): void;
  /** Resolves when every queued chunk is stored. @throws {RefusedError} when one was refused */
  idle(): Promise<void>;
}

export interface UploaderOptions {
  /** Where single chunks go; without it the chunks of a take go together, in parcels. */
  address?(chunk: ChunkPlace): string;
  headers?: Record<string, string>;
  /** How many requests are on their way at once. */
  atOnce?: number;
  /** Waits until the line has room for a chunk, and hears how long it took. */
  pace?: { before(): Promise<void>; sent(bytes: number, milliseconds: number): void };
  onStored(chunk: OutgoingChunk): void;
  /** Brings back the sound of a chunk that was let go of. */
  bringBack?(chunk: ChunkPlace): Promise<Uint8Array<ArrayBuffer>>;
  /** Called when the server cannot be reached, or wants something first, and a chunk has to wait. */
  onWaiting(problem: Problem): void;
  /** Called once, at the moment the server says that it will never take a chunk. */
  onRefused?(message: string): void;
  /** Waited for before anything is sent. */
  ready?(): Promise<void>;
  /** Chunks that nobody wants any more. */
  skip?(chunk: ChunkPlace): boolean;
  fetch?: typeof fetch;
  /** Waits between tries; replaced in tests. */
  pause?(milliseconds: number): Promise<void>;
  /** How long the first try may take, ms; replaced in tests. */
  patience?(bytes: number): number;
}

const AT_ONCE = 3;
/** A request that nobody answers is sent again: on a connection that was lost without a word it would wait for ever. */
const LEAST_PATIENCE_MS = 20_000;
/** A line slower than this needs several tries, each with twice the time. */
const SLOW_LINE_BYTES_PER_MS = 64;
const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 8000;

export function createUploader(options: UploaderOptions): Uploader {
  const request = options.fetch ?? fetch;
  const rest = options.pause ?? pause;
  const patienceFor = options.patience ?? ((bytes: number) => LEAST_PATIENCE_MS + bytes / SLOW_LINE_BYTES_PER_MS);
  const queue: WaitingChunk[] = [];
  const waiting: { resolve: () => void; reject: (error: Error) => void }[] = [];
  let sending = 0;
  let refused: RefusedError | null = null;

  const settle = (): void => {
    if (refused) for (const { reject } of waiting.splice(0)) reject(refused);
    else if (sending === 0 && queue.length === 0) for (const { resolve } of waiting.splice(0)) resolve();
  };

  const sendAll = async (taken: readonly WaitingChunk[]): Promise<void> => {
    await options.ready?.();
    const waiting = taken.filter((chunk) => !options.skip?.(chunk));
    if (waiting.length === 0) return;
    const chunks: OutgoingChunk[] = [];
    for (const { bytes, ...place } of waiting) chunks.push({ ...place, bytes: bytes ?? (await options.bringBack!(place)) });
    const sums = await Promise.all(chunks.map(async ({ bytes }) => hex(await crypto.subtle.digest('SHA-256', bytes))));
    const parcel = options.address ? single(options.address(chunks[0]), chunks[0], sums[0]) : packed(chunks, sums);
    let patience = patienceFor(parcel.body.size);
    for (let wait = FIRST_PAUSE_MS; ; wait = Math.min(wait * 2, LONGEST_PAUSE_MS), patience *= 2) {
      await options.pace?.before();
      const began = performance.now();
      const problem = await put(parcel, AbortSignal.timeout(Math.ceil(patience)));
      if (problem === null) {
        options.pace?.sent(parcel.body.size, performance.now() - began);
        return chunks.forEach(options.onStored);
      }
      options.onWaiting(problem);
      await rest(wait);
    }
  };

  /** Null when it is stored, else why it should be tried again. */
  const put = async ({ address, headers, body }: Parcel, signal: AbortSignal): Promise<Problem | null> => {
    const sending = request(address, { method: 'PUT', headers: { 'content-type': 'application/octet-stream', ...headers, ...options.headers }, body, signal });
    const problem = await problemWith(await sending.catch(() => null));
    if (problem && !problem.passing) throw new RefusedError(problem.message);
    return problem;
  };

  const pump = (): void => {
    while (sending < (options.atOnce ?? AT_ONCE) && queue.length > 0 && !refused) {
      const chunks = queue.splice(0, options.address ? 1 : parcelLength(queue));
      sending++;
      sendAll(chunks)
        .catch((error: Error) => {
          if (refused) return;
          refused = error instanceof RefusedError ? error : new RefusedError(error.message);
          options.onRefused?.(refused.message);
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
      queue.push({ ...chunk, length: chunk.bytes.length });
      // What is given in one go travels together.
      queueMicrotask(pump);
    },
    waitingBytes: () => queue.reduce((sum, { bytes }) => sum + (bytes?.length ?? 0), 0),
    letGo(isElsewhere) {
      if (options.bringBack) for (const chunk of queue) if (isElsewhere(chunk)) chunk.bytes = null;
    },
    idle: () =>
      new Promise((resolve, reject) => {
        waiting.push({ resolve, reject });
        settle();
      }),
  };
}

/** One request. */
interface Parcel {
  address: string;
  headers: Record<string, string>;
  /** The browser holds it outside this thread, and sends it as often as it must without copying it again. */
  body: Blob;
}

const single = (address: string, { bytes }: OutgoingChunk, sha256: string): Parcel => ({ address, headers: { 'x-chunk-sha256': sha256 }, body: new Blob([bytes]) });

function packed(chunks: readonly OutgoingChunk[], sums: readonly string[]): Parcel {
  const entries = chunks.map(({ track, index, bytes }, k): ParcelEntry => ({ track, index, sha256: sums[k], bytes: bytes.length }));
  return { address: `/api/takes/${chunks[0].take}/chunks`, headers: { [PARCEL_HEADER]: JSON.stringify(entries) }, body: new Blob(chunks.map(({ bytes }) => bytes)) };
}

/** How many chunks from the front of a queue travel together. */
function parcelLength(queue: readonly WaitingChunk[]): number {
  let bytes = queue[0].length;
  let count = 1;
  while (count < Math.min(queue.length, MOST_IN_PARCEL)) {
    const next = queue[count];
    bytes += next.length;
    if (next.take !== queue[0].take || bytes > PARCEL_BYTES) break;
    count++;
  }
  return count;
}

function hex(bytes: ArrayBuffer): string {
  return Array.from(new Uint8Array(bytes), (byte) => byte.toString(16).padStart(2, '0')).join('');
}
