import { keepListening } from '../keep-listening';
import { WAKE_CHANNEL } from './queries';

type Wake = () => void;

interface Listening {
  sleepers: Map<string, Set<Wake>>;
  stop(): Promise<void>;
}

const RETRY_MS = 500;

// The development server evaluates modules again on every change; the connection outlives that.
const kept = globalThis as { briskLanternListening?: Listening };

/**
 * Calls `wake` whenever there may be a message for the recipient, from whichever app instance it
 * came; also after the database was away, since messages may have been missed then. Returns the end.
 */
export function wakeFor(episode: string, recipient: string, wake: Wake): () => void {
  const { sleepers } = (kept.briskLanternListening ??= listen());
  const key = `${episode}/${recipient}`;
  const set = sleepers.get(key) ?? new Set();
  sleepers.set(key, set.add(wake));
  return () => {
    set.delete(wake);
    if (set.size === 0 && sleepers.get(key) === set) sleepers.delete(key);
  };
}

function listen(): Listening {
  const sleepers: Listening['sleepers'] = new Map();
  const all = () => sleepers.forEach((set) => set.forEach((wake) => wake()));
  const one = (key: string) => sleepers.get(key)?.forEach((wake) => wake());
  return { sleepers, stop: keepListening(process.env.DATABASE_URL, WAKE_CHANNEL, { notified: one, begun: all }, RETRY_MS) };
}

/** Ends the connection, for tests and a server that stops. */
export async function stopListening(): Promise<void> {
  const listening = kept.briskLanternListening;
  kept.briskLanternListening = undefined;
  await listening?.stop();
}
