import pg from 'pg';
import { log } from './log';

/** What comes over a channel of the database. */
export interface Heard {
  notified(payload: string): void;
  /** It is listened now, for the first time or again: something may have been missed until then. */
  begun(): void;
}

/**
 * Listens to a channel (NOTIFY) through a connection of its own, which is opened again when it breaks. Returns the end.
 * @param againMs how long after a break
 */
export function keepListening(url: string | undefined, channel: string, heard: Heard, againMs: number): () => Promise<void> {
  let client: pg.Client | null = null;
  let retry: NodeJS.Timeout | undefined;
  let ended = false;
  const open = async (): Promise<void> => {
    const own = (client = new pg.Client({ connectionString: url, keepAlive: true }));
    const lost = (err?: Error): void => {
      if (client !== own || ended) return;
      client = null;
      if (err) log.warn({ err, channel }, 'nothing is heard from the database for the moment');
      retry = setTimeout(() => void open(), againMs).unref();
    };
    own.on('error', lost);
    own.on('end', () => lost());
    own.on('notification', ({ payload }) => heard.notified(payload ?? ''));
    try {
      await own.connect();
      await own.query(`listen ${channel}`);
      heard.begun();
    } catch (error) {
      lost(error as Error);
    }
  };
  void open();
  return async () => {
    ended = true;
    clearTimeout(retry);
    await client?.end();
  };
}
