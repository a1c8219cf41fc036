import { keepRing, type FromKeeper, type KeepRing, type RingKeeper } from './keep-ring';

export type ToKeeper = { type: 'keep'; ring: KeepRing } | { type: 'release'; below: number };

/** A ring that is being kept. */
export interface Keeper extends RingKeeper {
  /** Resolves when what comes from now on is kept, where it can be. */
  ready: Promise<void>;
  /** Resolves when the ring was closed and all of it was heard of. @throws {Error} when the keeper broke down */
  ended: Promise<void>;
}

/** Keeps a ring in a thread of its own: sending what is kept must not hold up keeping it. */
export function startKeeper(ring: KeepRing, onKept: (records: ArrayBuffer, onDisk: boolean) => void): Keeper {
  const ready = promise();
  const ended = promise();
  const fail = (why: string): void => {
    const error = new Error(`The recorder stopped (${why}). What is on this computer and on the server is safe.`);
    ready.reject(error);
    ended.reject(error);
  };
  const hear = (message: FromKeeper): void => {
    if (message.type === 'kept') onKept(message.records, message.onDisk);
    else if (message.type === 'ready') ready.resolve();
    else if (message.type === 'failed') fail(message.message);
    else ended.resolve();
  };
  if (typeof Worker === 'undefined') return { ...keepRing(ring, hear), ready: ready.done, ended: ended.done };
  const worker = new Worker(new URL('./keeper.worker.ts', import.meta.url), { type: 'module' });
  let heard = false;
  let release: RingKeeper['release'] = (below) => worker.postMessage({ type: 'release', below } satisfies ToKeeper);
  worker.onmessage = ({ data }: MessageEvent<FromKeeper>) => {
    heard = true;
    hear(data);
  };
  worker.onmessageerror = () => fail('a message could not be read');
  worker.onerror = (event) => {
    if (heard) return fail(event.message ?? 'its thread ended');
    // Its program cannot be loaded while the server is away: then this thread does both, in turns.
    heard = true;
    ({ release } = keepRing(ring, hear));
  };
  worker.postMessage({ type: 'keep', ring } satisfies ToKeeper);
  return { ready: ready.done, ended: ended.done.finally(() => worker.terminate()), release: (below) => release(below) };
}

function promise() {
  let resolve: () => void = () => undefined;
  let reject: (error: Error) => void = () => undefined;
  const done = new Promise<void>((resolved, rejected) => {
    resolve = resolved;
    reject = rejected;
  });
  // Whoever waits hears of it; a keeper that nobody waits for yet must not end the thread.
  done.catch(() => undefined);
  return { done, resolve, reject };
}
