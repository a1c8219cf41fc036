import { createJournalBatch, segmentOf } from '@/core/takes/journal';
import type { KeptFolder } from './kept-files';
import { keepTake } from './own-disk';
import { RING_BLOCK, RING_BLOCKS, ringReader } from './ring';
import { pause } from '../pause';

/** How often the ring is emptied onto the disk: well within what may be lost. */
const DRAIN_MS = 100;

/** Records that belong together, and the sample of the take behind them. */
interface ToWrite {
  segment: number;
  captured: number;
  records: Uint8Array<ArrayBuffer>;
}

/** What is to be kept, and where. */
export interface KeepRing {
  folder: KeptFolder;
  take: string;
  /** Which part of the recording this is. */
  part: number;
  channels: number;
  /** Its positions are samples of the take. */
  ring: SharedArrayBuffer;
  /** Where the take's first sample stands in what is kept. */
  origin: number;
  /** A sample of the take near the first that comes: the segment for it is opened before anything has to be kept. */
  nearSample: number;
}

export type FromKeeper =
  /** This computer's disk is open, or cannot be had. */
  | { type: 'ready' }
  /** Records of the journal, on the disk where there is one. */
  | { type: 'kept'; records: ArrayBuffer; onDisk: boolean }
  /** The ring was closed, and all of it is kept; no file is held any more. */
  | { type: 'ended' }
  /** Keeping broke down: what comes is not kept any more. */
  | { type: 'failed'; message: string };

export interface RingKeeper {
  /** Lets go of segments below this one: they are safe elsewhere. */
  release(below: number): void;
}

/**
 * The first step of a sample's way: from the ring onto this browser's own disk, and nothing else, so that nothing else
 * makes it wait. What is kept is told on as it was written.
 */
export function keepRing({ folder, take, part, channels, ring, origin, nearSample }: KeepRing, tell: (message: FromKeeper) => void): RingKeeper {
  let releasable = 0;
  const keep = async (): Promise<void> => {
    let disk = await keepTake(take, folder, part).catch(() => null);
    await disk?.open(segmentOf(nearSample)).catch(() => (disk = null));
    tell({ type: 'ready' });
    const reader = ringReader(ring, channels);
    const batch = createJournalBatch(channels, RING_BLOCK, RING_BLOCKS);
    const drain = (): ToWrite[] => {
      const drained: ToWrite[] = [];
      let segment = -1;
      let captured = 0;
      const cut = (): void => void drained.push({ segment, captured, records: batch.take().slice() });
      reader.drain((sample, block) => {
        const into = segmentOf(sample);
        if (segment >= 0 && into !== segment) cut();
        segment = into;
        batch.add(origin + sample, block);
        captured = sample + RING_BLOCK;
      });
      if (segment >= 0) cut();
      return drained;
    };
    const write = async (writes: ToWrite[]): Promise<void> => {
      try {
        for (const { segment, records } of writes) await disk?.append(segment, records);
        if (writes.length > 0) disk?.noteTime({ sample: writes.at(-1)!.captured, at: Date.now() });
        await disk?.release(releasable);
      } catch {
        // A disk that fails is given up, and said so; what comes is told on from memory.
        disk = null;
      }
      for (const { records } of writes) tell({ type: 'kept', records: records.buffer, onDisk: disk !== null });
    };
    // The ring is emptied while the disk is waited for: it holds some seconds only, and what it has no room for is lost.
    let waiting: ToWrite[] = [];
    let writing: Promise<void> | null = null;
    while (!reader.ended()) {
      waiting.push(...drain());
      if (!writing) {
        writing = write(waiting).finally(() => (writing = null));
        waiting = [];
      }
      await pause(DRAIN_MS);
    }
    await writing;
    await write([...waiting, ...drain()]);
    await disk?.close();
    tell({ type: 'ended' });
  };
  keep().catch((error: Error) => tell({ type: 'failed', message: error.message }));
  return {
    release(below) {
      releasable = below;
    },
  };
}
