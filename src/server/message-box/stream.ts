import type pg from 'pg';
import { HttpError } from '../http/errors';
import { log } from '../log';
import { RENEW_MS } from './ice';
import { messagesAfter } from './queries';
import { wakeFor } from './wake';

export interface MessageStream {
  episode: string;
  recipient: string;
  /** The first message sent is the one after this id. */
  after: number;
  /** What the stream begins with, under the event name `open`. */
  greeting: object;
  /** What of it runs out and is said anew, now and then, under the event name `renew`. */
  renew?(): object;
  signal: AbortSignal;
  /** Asked every few seconds; false ends the stream. */
  stillThere(): Promise<boolean>;
  onEnd(): Promise<void>;
}

const BEAT_MS = 4000;
/** Streams one server holds open at once, and those of one recipient: several windows of a few people. */
const MOST_STREAMS = 2000;
const MOST_OF_ONE = 40;

/** How many streams there are for each recipient. */
const open = new Map<string, number>();
let allOpen = 0;
/** What ends each of them. A server that stops does not wait for streams, which never end by themselves. */
const ends = new Set<() => void>();
process.on('lantern-stopping', () => ends.forEach((end) => end()));

function count(key: string, change: 1 | -1): void {
  allOpen += change;
  const now = (open.get(key) ?? 0) + change;
  if (now === 0) open.delete(key);
  else open.set(key, now);
}

const EVENT_STREAM = { 'content-type': 'text/event-stream', 'cache-control': 'no-cache, no-transform', 'x-accel-buffering': 'no' };

/** A stream that says why there is none. */
export function refusal({ code, message }: HttpError): Response {
  return new Response(`event: refused\ndata: ${JSON.stringify({ code, message })}\n\n`, { headers: EVENT_STREAM });
}

/**
 * A recipient's messages as server-sent events, in order, each with its id, so that a reader that
 * lost the connection asks for what followed. @throws {HttpError} 503 when there are too many
 */
export function messageStream(pool: pg.Pool, stream: MessageStream): Response {
  const key = `${stream.episode}/${stream.recipient}`;
  if (allOpen >= MOST_STREAMS || (open.get(key) ?? 0) >= MOST_OF_ONE) {
    void stream.onEnd().catch(() => undefined);
    throw new HttpError(503, 'too-many-streams', 'This server has too many windows open at once. Close some, or wait a moment.');
  }
  const encoder = new TextEncoder();
  let after = stream.after;
  let ended = false;
  let reading = false;
  let again = false;
  let end: () => void = () => undefined;

  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      count(key, 1);
      const send = (text: string) => {
        if (!ended) controller.enqueue(encoder.encode(text));
      };
      /** One reading at a time; a wake meanwhile makes it read once more. */
      const read = async (): Promise<void> => {
        again = true;
        if (reading) return;
        reading = true;
        try {
          while (again && !ended) {
            again = false;
            const messages = await messagesAfter(pool, stream.episode, stream.recipient, after);
            for (const message of messages) {
              send(`id: ${message.id}\ndata: ${JSON.stringify(message)}\n\n`);
              after = message.id;
            }
            if (messages.length > 0) again = true;
          }
        } catch {
          // The database is away for a moment; the next wake or beat reads again.
        } finally {
          reading = false;
        }
      };
      const stopWaking = wakeFor(stream.episode, stream.recipient, () => void read());
      const { renew } = stream;
      const renewing = renew && setInterval(() => send(`event: renew\ndata: ${JSON.stringify(renew())}\n\n`), RENEW_MS);
      const beat = setInterval(() => {
        send(': here\n\n');
        void read();
        stream.stillThere().then(
          async (there) => {
            if (there) return;
            // What explains the end goes out before it.
            await read();
            end();
          },
          () => undefined,
        );
      }, BEAT_MS);
      end = () => {
        if (ended) return;
        ended = true;
        count(key, -1);
        ends.delete(end);
        clearInterval(beat);
        clearInterval(renewing);
        stopWaking();
        stream.onEnd().catch((err: Error) => log.error({ err }, 'a window could not be given back'));
        try {
          controller.close();
        } catch {
          // The browser closed it first.
        }
      };
      stream.signal.addEventListener('abort', end);
      ends.add(end);
      if (stream.signal.aborted) end();
      send(`event: open\nid: ${after}\ndata: ${JSON.stringify(stream.greeting)}\n\n`);
      void read();
    },
    cancel: () => end(),
  });
  return new Response(body, { headers: EVENT_STREAM });
}
