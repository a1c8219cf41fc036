import type { FromRecorder, RecoverTake, SealKept } from './messages';

/** A take that is brought to the server from this browser's own disk. */
export interface TakeRecovery {
  /** Seals it, once everything was sent. */
  seal(): void;
  close(): void;
}

/** Sends what an earlier recorder left here. */
export function recoverTake(take: string, onMessage: (message: FromRecorder) => void): TakeRecovery {
  const worker = new Worker(new URL('./recorder.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<FromRecorder>) => onMessage(data);
  const fail = () => onMessage({ type: 'failed', message: 'The recorder stopped.' });
  worker.onerror = fail;
  worker.onmessageerror = fail;
  worker.postMessage({ type: 'recover', take } satisfies RecoverTake);
  return {
    seal: () => worker.postMessage({ type: 'seal-kept' } satisfies SealKept),
    close: () => worker.terminate(),
  };
}
