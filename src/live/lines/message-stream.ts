import { createParser } from 'eventsource-parser';
import type { BoxMessage } from '@/core/lines/messages';

export interface MessageStreamOptions<Greeting> {
  url: string;
  headers?: Record<string, string>;
  /** The stream is open, at first and after every loss. */
  onOpen(greeting: Greeting): void;
  /** What of the greeting runs out has been said anew. */
  onRenew?(renewed: Partial<Greeting>): void;
  /** Each message once, in order. */
  onMessage(message: BoxMessage): void;
  /** The connection broke; it is tried again. */
  onAway(): void;
  /** The server will not have this window, or ended it; nothing more is tried. */
  onRefused(code: string, words: string): void;
}

export interface MessageStream {
  close(): void;
}

const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 2000;
/** The server says something at least every four seconds; after so long it is gone. */
const SILENCE_MS = 10_000;
/**
 * One that is slow to greet is given twice as long each time, up to so long: it would else be asked for ever and never be waited
 * for. No longer, because a network that is back after a long outage is noticed soonest by asking anew.
 */
const LONGEST_GREETING_MS = 30_000;

/**
 * Reads a party's messages as server-sent events for as long as it is open. After a lost connection
 * it asks for what followed the last message it has.
 */
export function openMessageStream<Greeting>(options: MessageStreamOptions<Greeting>): MessageStream {
  let last: number | null = null;
  let closed = false;
  let current: AbortController | null = null;
  let wake: () => void = () => undefined;

  const pause = (milliseconds: number) =>
    new Promise<void>((resolve) => {
      const timer = setTimeout(resolve, milliseconds);
      wake = () => {
        clearTimeout(timer);
        resolve();
      };
    });

  let greetingWithin = SILENCE_MS;

  /** One connection, until it ends. True when anything was heard on it. */
  const connection = async (): Promise<boolean> => {
    const abort = new AbortController();
    current = abort;
    let heard = false;
    let silence = setTimeout(() => {
      greetingWithin = Math.min(LONGEST_GREETING_MS, 2 * greetingWithin);
      abort.abort();
    }, greetingWithin);
    try {
      const headers = { accept: 'text/event-stream', ...options.headers, ...(last === null ? {} : { 'last-event-id': String(last) }) };
      const response = await fetch(options.url, { headers, signal: abort.signal, cache: 'no-store' });
      if (!response.ok) {
        if (response.status >= 500 || response.status === 429) return false;
        const { code, message } = (await response.json().catch(() => ({}))) as { code?: string; message?: string };
        closed = true;
        options.onRefused(code ?? 'unknown', message ?? `The server answered ${response.status}.`);
        return false;
      }
      const parser = createParser({
        onEvent({ event, data, id }) {
          heard = true;
          if (event === 'refused') {
            const { code, message } = JSON.parse(data) as { code: string; message: string };
            closed = true;
            return options.onRefused(code, message);
          }
          if (event === 'open') {
            last ??= Number(id);
            options.onOpen(JSON.parse(data) as Greeting);
            return;
          }
          if (event === 'renew') return options.onRenew?.(JSON.parse(data) as Partial<Greeting>);
          const message = JSON.parse(data) as BoxMessage;
          if (last !== null && message.id <= last) return;
          last = message.id;
          options.onMessage(message);
        },
      });
      const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
      for (let part = await reader.read(); !part.done && !closed; part = await reader.read()) {
        clearTimeout(silence);
        greetingWithin = SILENCE_MS;
        silence = setTimeout(() => abort.abort(), SILENCE_MS);
        parser.feed(part.value);
      }
    } catch {
      // Broken by the network, the server or the silence: the loop below tries again.
    } finally {
      clearTimeout(silence);
      abort.abort();
    }
    return heard;
  };

  const run = async (): Promise<void> => {
    for (let wait = FIRST_PAUSE_MS; !closed; wait = Math.min(LONGEST_PAUSE_MS, wait * 2)) {
      if (await connection()) wait = FIRST_PAUSE_MS;
      if (closed) return;
      options.onAway();
      await pause(wait);
    }
  };

  const online = () => {
    current?.abort();
    wake();
  };
  window.addEventListener('online', online);
  void run();
  return {
    close() {
      closed = true;
      window.removeEventListener('online', online);
      current?.abort();
      wake();
    },
  };
}
