import { createJournalBatch, segmentOf } from '@/core/takes/journal';
import type { KeptFolder } from './kept-files';
import { keepTake } from './own-disk';
import { RING_BLOCK, RING_BLOCKS, ringReader } from './ring';
import { pause } from '../pause';

/** How often the ring is emptied onto the disk: well within what may be lost. */
const DRAIN_MS = 100;

/** What is to be kept, and where. */
export interface KeepRing {
  folder: KeptFolder;
  take: string;
  channels: number;
  ring: SharedArrayBuffer;
  /** For a take that goes on: the sample it goes on with, and the session clock of its first sample. */
  goOn: { atSample: number; clockAtStart: number } | null;
}

export type FromKeeper =
  /** This computer's disk is open, or cannot be had. */
  | { type: 'ready' }
  /** Records of the journal, on the disk where there is one. */
  | { type: 'kept'; records: ArrayBuffer; onDisk: boolean }
  /** The ring was closed, and all of it is kept; no file is held any more. */
  | { type: 'ended' };

export interface RingKeeper {
  /** Lets go of segments below this one: they are safe elsewhere. */
  release(below: number): void;
}

/**
 * The first step of a sample's way: from the ring onto this browser's own disk, and nothing else, so that nothing else
 * makes it wait. What is kept is told on as it was written.
 */
export function keepRing({ folder, take, channels, ring, goOn }: KeepRing, tell: (message: FromKeeper) => void): RingKeeper {
  let releasable = 0;
  const keep = async (): Promise<void> => {
    let disk = await keepTake(take, folder).catch(() => null);
    await disk?.open(segmentOf(goOn?.atSample ?? 0)).catch(() => (disk = null));
    tell({ type: 'ready' });
    const reader = ringReader(ring, channels);
    const batch = createJournalBatch(channels, RING_BLOCK, RING_BLOCKS);
    let clockAtStart = goOn?.clockAtStart ?? Number.NaN;
    /** Session clock of the take less that of this desk's engine: another engine's clock begins anew. */
    let shift = goOn ? Number.NaN : 0;
    while (!reader.ended()) {
      const writes: { segment: number; records: Uint8Array<ArrayBuffer> }[] = [];
      let segment = -1;
      let captured = 0;
      reader.drain((clock, block) => {
        if (Number.isNaN(clockAtStart)) clockAtStart = clock;
        if (Number.isNaN(shift)) shift = clockAtStart + goOn!.atSample - clock;
        const position = clock + shift;
        const into = segmentOf(position - clockAtStart);
        if (segment >= 0 && into !== segment) writes.push({ segment, records: batch.take().slice() });
        segment = into;
        batch.add(position, block);
        captured = position - clockAtStart + RING_BLOCK;
      });
      if (segment >= 0) writes.push({ segment, records: batch.take().slice() });
      try {
        for (const { segment: into, records } of writes) await disk?.append(into, records);
        if (writes.length > 0) disk?.noteTime({ sample: captured, at: Date.now() });
        await disk?.release(releasable);
      } catch {
        // A disk that fails is given up, and said so; what comes is told on from memory.
        disk = null;
      }
      for (const { records } of writes) tell({ type: 'kept', records: records.buffer, onDisk: disk !== null });
      await pause(DRAIN_MS);
    }
    await disk?.close();
    tell({ type: 'ended' });
  };
  void keep();
  return {
    release(below) {
      releasable = below;
    },
  };
}
