import type { KeptFolder } from './kept-files';

/** A file of a take that is to be on the disk itself. */
export interface FlushRequest {
  folder: KeptFolder;
  take: string;
  name: string;
}

/** Flushes files beside the recorder, each once at a time. */
export interface Flusher {
  /** False where it cannot: its program could not be loaded. */
  flush(name: string): boolean;
  /** Ends it, whatever is under way: soon after it holds no file any more. */
  stop(): void;
}

/** Begins to flush what is kept of a take; null where there are no workers within workers. */
export function createFlusher(folder: KeptFolder, take: string): Flusher | null {
  if (typeof Worker === 'undefined') return null;
  const worker = new Worker(new URL('./flush.worker.ts', import.meta.url), { type: 'module' });
  const underWay = new Set<string>();
  let broken = false;
  worker.onmessage = ({ data }: MessageEvent<string>) => void underWay.delete(data);
  worker.onerror = () => {
    broken = true;
  };
  return {
    flush(name) {
      if (broken) return false;
      if (underWay.has(name)) return true;
      underWay.add(name);
      worker.postMessage({ folder, take, name } satisfies FlushRequest);
      return true;
    },
    stop: () => worker.terminate(),
  };
}
