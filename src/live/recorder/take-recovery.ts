import type { AudioDesk } from '../desk/audio-desk';
import type { Tap } from '@/core/session/captures';
import type { ContinueKept, FromRecorder, RecoverTake, SealKept, TryAgain } from './messages';
import { ringBytes } from './ring';
import { boardMemory, planMessage, takeRecording, type NumberedInForce, type TakeRecording } from './take-recording';

/** A take that is brought to the server from this browser's own disk. */
export interface TakeRecovery {
  /** Seals it, once everything was sent. */
  seal(): void;
  /** Goes on with it instead: its tracks are captured again from this sample of the take on. */
  goOn(desk: AudioDesk, number: number, taps: Tap[], atSample: number, inForce: NumberedInForce): TakeRecording;
  /** Sends what waits now, and not when its turn comes. */
  tryAgain(): void;
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
    goOn(desk, number, taps, atSample, inForce) {
      const ring = new SharedArrayBuffer(ringBytes(taps.reduce((sum, { channels }) => sum + channels, 0)));
      worker.postMessage({ type: 'continue-kept', ring, board: boardMemory(desk) } satisfies ContinueKept);
      worker.postMessage(planMessage(inForce));
      desk.tell({ type: 'record', ring, taps, from: atSample });
      return takeRecording(desk, worker, ring, take, number, onMessage);
    },
    tryAgain: () => worker.postMessage({ type: 'try-again' } satisfies TryAgain),
    close: () => worker.terminate(),
  };
}
