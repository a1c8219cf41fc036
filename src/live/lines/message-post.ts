import { sendJson, ServerError } from '../api';

const PAUSE_MS = 400;
const TRIES = 60;

export interface MessagePost {
  /** Puts a message into the box, after those before it; tried again while the server is away. */
  send(body: object): void;
  close(): void;
}

/** Sends messages one after another, in order. `onRefused` hears of one the server will not take. */
export function createMessagePost(url: string, headers: Record<string, string>, onRefused: (error: ServerError) => void): MessagePost {
  let last = Promise.resolve();
  let closed = false;
  const put = async (body: object): Promise<void> => {
    for (let tries = 0; tries < TRIES && !closed; tries++) {
      try {
        await sendJson('POST', url, body, { headers });
        return;
      } catch (error) {
        const refused = error instanceof ServerError && error.status >= 400 && error.status < 500 && error.status !== 429;
        if (refused) return onRefused(error);
        await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
      }
    }
  };
  return {
    send(body) {
      last = last.then(() => put(body));
    },
    close() {
      closed = true;
    },
  };
}
