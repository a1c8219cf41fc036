import { sendJson, ServerError } from '../api';

const PAUSE_MS = 400;
const TRIES = 60;

export interface MessagePost {
  /** Puts a message into the box, after those before it; tried again while the server is away. */
  send(body: object): void;
  /** The place this box belongs to is not ours for now: what is sent waits. */
  hold(): void;
  /** The place is ours again. */
  go(): void;
  close(): void;
}

/** The server holds the place for nobody between a lost connection and the next: no reason to lose a message. */
const PLACE_LOST = ['not-the-desk', 'open-elsewhere'];

/** Sends messages one after another, in order. `onRefused` hears of one the server will not take. */
export function createMessagePost(url: string, headers: Record<string, string>, onRefused: (error: ServerError) => void): MessagePost {
  let last = Promise.resolve();
  let closed = false;
  let held: Promise<void> | null = null;
  let release: () => void = () => undefined;
  const put = async (body: object): Promise<void> => {
    for (let tries = 0; tries < TRIES && !closed; tries++) {
      await held;
      if (closed) return;
      try {
        await sendJson('POST', url, body, { headers });
        return;
      } catch (error) {
        const refused = error instanceof ServerError && error.status >= 400 && error.status < 500 && error.status !== 429;
        if (refused && !PLACE_LOST.includes(error.code)) return onRefused(error);
        await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
      }
    }
  };
  return {
    send(body) {
      last = last.then(() => put(body));
    },
    hold() {
      held ??= new Promise((resolve) => {
        release = resolve;
      });
    },
    go() {
      held = null;
      release();
    },
    close() {
      closed = true;
      release();
    },
  };
}
