import { inTime, SilentDiskError, soonerOrLater } from './disk-patience';
import { createFlusher, type Flusher } from './flusher';
import { folderOf, META_FILES, readMeta, segmentFile, timeFile, type KeptFolder, type KeptMeta, type TakeMeta } from './kept-files';
import type { KeptTime } from './kept-time';
import { pause } from '../pause';

const FLUSH_MS = 1000;
const REMOVE_TRIES = 20;
const REMOVE_AGAIN_MS = 100;

/** Opens a file so that it can be flushed beside whoever writes it, where the browser lets a file be open twice. */
const openFile = (file: FileSystemFileHandle): Promise<FileSystemSyncAccessHandle> => file.createSyncAccessHandle({ mode: 'readwrite-unsafe' });

interface OpenSegment {
  segment: number;
  handle: FileSystemSyncAccessHandle;
}

const letGoOf = ({ handle }: OpenSegment): void => handle.close();

/** A take being written here. Only for workers: pages may not write synchronously. Whatever the disk does not answer in time fails; reading waits longer. */
export interface KeptTake<Kept extends KeptMeta = TakeMeta> {
  writeMeta(meta: Kept): Promise<void>;
  /** Opens a segment ahead of time, so that nothing has to wait for it. */
  open(segment: number): Promise<void>;
  /** Appends to a segment; what it returns from survives the page and the browser, and a power cut once it was flushed. */
  append(segment: number, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  /** All of a segment of a part; null where there is none. */
  readSegment(segment: number, part: number): Promise<ArrayBuffer | null>;
  /** Writes down what time it is. */
  noteTime(time: KeptTime): void;
  /** Cuts off what is no whole record at the end of a segment of a part. */
  trim(segment: number, part: number, recordBytes: number): Promise<void>;
  /** Holds no file any more. */
  close(): Promise<void>;
  /** Lets go of one segment below this one, if there still is one: they are safe elsewhere, and what comes must not wait for all of them. */
  release(below: number): Promise<void>;
  /** Lets go of the whole take. */
  remove(): Promise<void>;
}

/**
 * Begins to keep a take on this browser's disk; null where that cannot be.
 * @param part which part of the recording is written
 */
export function keepTake<Kept extends KeptMeta = TakeMeta>(take: string, within: KeptFolder = 'takes', part = 0): Promise<KeptTake<Kept> | null> {
  return inTime(beginKeeping<Kept>(take, within, part));
}

async function beginKeeping<Kept extends KeptMeta>(take: string, within: KeptFolder, part: number): Promise<KeptTake<Kept> | null> {
  const takes = await folderOf(within);
  if (!takes) return null;
  const folder = await takes.getDirectoryHandle(take, { create: true });
  let clock: FileSystemSyncAccessHandle | null = null;
  let open: OpenSegment | null = null;
  let next: { segment: number; opening: Promise<OpenSegment> } | null = null;
  let released = 0;
  // Whoever goes on with a take writes what is newer than anything there.
  let revision = (await readMeta<Kept>(folder))?.revision ?? 0;
  let flushedAt = 0;
  let flusher: Flusher | null = null;
  /** Now where a file can be open once only, soon elsewhere. */
  const flush = (name: string, handle: FileSystemSyncAccessHandle): void => {
    if (handle.mode === 'readwrite-unsafe') flusher ??= createFlusher(within, take);
    if (!flusher?.flush(name)) handle.flush();
  };
  const openSegment = async (segment: number): Promise<OpenSegment> => ({ segment, handle: await openFile(await folder.getFileHandle(segmentFile(segment, part), { create: true })) });
  /** The one that will be written next is opened meanwhile. */
  const openAhead = (segment: number): void => {
    if (next?.segment === segment) return;
    const opening = openSegment(segment);
    // Whether it can be opened is found out when it is written to.
    opening.catch(() => undefined);
    next = { segment, opening };
  };
  const toWrite = async (segment: number): Promise<OpenSegment> => {
    if (open?.segment === segment) return open;
    open?.handle.close();
    open = null;
    const ahead = next?.segment === segment ? next.opening : openSegment(segment);
    // A take that goes on much later leaves out the segment that was opened ahead.
    if (next && next.opening !== ahead) void next.opening.then(letGoOf, () => undefined);
    next = null;
    return (open = await inTime(ahead, letGoOf));
  };
  const openNamed = async (name: string): Promise<FileSystemSyncAccessHandle> => openFile(await folder.getFileHandle(name, { create: true }));
  const kept: KeptTake<Kept> = {
    async writeMeta(meta) {
      const name = META_FILES[++revision % 2];
      const handle = await inTime(openNamed(name), (late) => late.close());
      try {
        const bytes = new TextEncoder().encode(JSON.stringify({ ...meta, revision }));
        handle.truncate(0);
        handle.write(bytes, { at: 0 });
        flush(name, handle);
      } finally {
        handle.close();
      }
    },
    async open(segment) {
      clock ??= await inTime(openNamed(timeFile(part)), (late) => late.close());
      await toWrite(segment);
    },
    async append(segment, bytes) {
      // Nothing is waited for where the segment is open already.
      const { handle } = open?.segment === segment ? open : await toWrite(segment);
      const fitted = handle.write(bytes, { at: handle.getSize() });
      if (fitted < bytes.length) throw new Error('This computer’s disk is full.');
      openAhead(segment + 1);
      // What is written outlives a browser that is killed. Only a power cut asks for more, and that can take as long as the disk likes.
      if (performance.now() - flushedAt < FLUSH_MS) return;
      flush(segmentFile(segment, part), handle);
      flushedAt = performance.now();
    },
    async readSegment(segment, of) {
      return soonerOrLater(async () => {
        const file = await folder.getFileHandle(segmentFile(segment, of)).catch(() => null);
        return file ? (await file.getFile()).arrayBuffer() : null;
      });
    },
    noteTime({ sample, at }) {
      clock?.write(new Uint8Array(Float64Array.of(sample, at).buffer), { at: 0 });
    },
    async trim(segment, of, bytes) {
      const handle = await inTime(folder.getFileHandle(segmentFile(segment, of)).then(openFile), (late) => late.close());
      handle.truncate(handle.getSize() - (handle.getSize() % bytes));
      handle.flush();
      handle.close();
    },
    async release(below) {
      if (released >= below) return;
      if (open?.segment === released) {
        open.handle.close();
        open = null;
      }
      try {
        for (let of = 0; of <= part; of++) await inTime(removeIfThere(folder, segmentFile(released, of)));
        released++;
      } catch (error) {
        if (error instanceof SilentDiskError) throw error;
        // It is just being flushed, and goes the next time.
      }
    },
    async close() {
      open?.handle.close();
      clock?.close();
      if (next) await inTime(next.opening, letGoOf).then(letGoOf, () => undefined);
      open = next = clock = null;
      flusher?.stop();
      flusher = null;
    },
    async remove() {
      await kept.close();
      // What was being flushed is let go of a moment later.
      for (let tries = 0; tries < REMOVE_TRIES; tries++) {
        if (await inTime(takes.removeEntry(take, { recursive: true })).then(() => true, (error: Error) => error instanceof SilentDiskError)) return;
        await pause(REMOVE_AGAIN_MS);
      }
    },
  };
  return kept;
}

/** @throws {Error} when it is in use */
async function removeIfThere(folder: FileSystemDirectoryHandle, name: string): Promise<void> {
  await folder.removeEntry(name).catch((error: Error) => {
    if (error.name !== 'NotFoundError') throw error;
  });
}

export async function forgetKept(take: string, within: KeptFolder = 'takes'): Promise<void> {
  await inTime(folderOf(within).then((folder) => folder?.removeEntry(take, { recursive: true }))).catch(() => undefined);
}
