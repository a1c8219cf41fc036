import pg from 'pg';
import { isBrokenConnection } from './database';
import { log } from './log';

const AGAIN_MS = 250;

/**
 * A connection of a process's own, as soon as the database takes one: it may be starting, or coming back from a crash.
 * @param onLost it was there and is broken
 * @throws {Error} what waiting would not change: a wrong password, no such database
 */
export async function ownConnection(url: string | undefined, onLost: (error: Error) => void): Promise<pg.Client> {
  for (let tries = 0; ; tries++) {
    const client = new pg.Client({ connectionString: url, keepAlive: true });
    let there = false;
    client.on('error', (error) => there && onLost(error));
    try {
      await client.connect();
      there = true;
      return client;
    } catch (error) {
      if (!isBrokenConnection(error)) throw error;
      if (tries === 0) log.warn({ err: error }, 'the database is not there yet and is waited for');
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }
}
