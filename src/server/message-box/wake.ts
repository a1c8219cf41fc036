import pg from 'pg';
import { WAKE_CHANNEL } from './queries';

type Wake = () => void;

interface Listening {
  sleepers: Map<string, Set<Wake>>;
  client: pg.Client | null;
}

const RETRY_MS = 500;

// The development server evaluates modules again on every change; the connection outlives that.
const kept = globalThis as { briskLanternListening?: Listening };

/**
 * Calls `wake` whenever there may be a message for the recipient, from whichever app instance it
 * came; also after the database was away, since messages may have been missed then. Returns the end.
 */
export function wakeFor(episode: string, recipient: string, wake: Wake): () => void {
  const listening = (kept.briskLanternListening ??= { sleepers: new Map(), client: null });
  const key = `${episode}/${recipient}`;
  const set = listening.sleepers.get(key) ?? new Set();
  listening.sleepers.set(key, set.add(wake));
  if (!listening.client) void listen(listening);
  return () => {
    set.delete(wake);
    if (set.size === 0 && listening.sleepers.get(key) === set) listening.sleepers.delete(key);
  };
}

async function listen(listening: Listening): Promise<void> {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL });
  listening.client = client;
  const again = () => {
    if (listening.client !== client) return;
    listening.client = null;
    setTimeout(() => {
      if (!listening.client && listening.sleepers.size > 0) void listen(listening);
    }, RETRY_MS).unref();
  };
  client.on('error', again);
  client.on('end', again);
  client.on('notification', ({ payload }) => listening.sleepers.get(payload ?? '')?.forEach((wake) => wake()));
  try {
    await client.connect();
    await client.query(`listen ${WAKE_CHANNEL}`);
    for (const set of listening.sleepers.values()) set.forEach((wake) => wake());
  } catch {
    again();
  }
}

/** Ends the connection, for tests and a server that stops. */
export async function stopListening(): Promise<void> {
  const client = kept.briskLanternListening?.client ?? null;
  kept.briskLanternListening = undefined;
  await client?.end();
}
