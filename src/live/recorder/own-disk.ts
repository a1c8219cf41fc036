import type { LostStretch } from '@/core/takes/chunker';
import type { TakePause } from '@/core/takes/pauses';
import { createFlusher, type Flusher } from './flusher';
import { pause } from '../pause';
import type { LineGap, PlanChanged, RecordedTrack } from './messages';

/** Everything that is needed to finish a take from what this browser's own disk has of it. */
export interface TakeMeta {
  take: string;
  tracks: RecordedTrack[];
  clockAtCall: number | null;
  /** Session clock of the take's first sample; null while there is none. */
  clockAtStart: number | null;
  planChanges: Omit<PlanChanged, 'type'>[];
  lineGaps: LineGap[];
  pauses: TakePause[];
  /** Samples at which a desk was left: what is missing from there on is the time without one. */
  leftAt: number[];
  /** What was lost before it reached this disk. */
  losses: LostStretch[];
}

/** What time it was, ms since 1970, when so many samples had been captured. */
export interface KeptTime {
  sample: number;
  at: number;
}

/** Takes of a desk, and recordings of guests' own microphones, are kept apart. */
export type KeptFolder = 'takes' | 'home';

/** What is written down beside the sound, so that it can be sent by whoever finds it. */
interface Meta {
  /** Session clock of the first sample; null while there is none. */
  clockAtStart: number | null;
}

/** Two, written in turn: a crash in the middle of one leaves the other. */
const TIME = 'time.bin';
const FLUSH_MS = 1000;
const REMOVE_TRIES = 20;
const REMOVE_AGAIN_MS = 100;
const META = ['take-0.json', 'take-1.json'];
const segmentName = (segment: number): string => `${String(segment).padStart(6, '0')}.blocks`;

/** Opens a file so that it can be flushed beside whoever writes it, where the browser lets a file be open twice. */
const openFile = (file: FileSystemFileHandle): Promise<FileSystemSyncAccessHandle> => file.createSyncAccessHandle({ mode: 'readwrite-unsafe' });

/** What is kept on this browser's own disk (Origin Private File System); null where it has none. */
async function folderOf(name: KeptFolder): Promise<FileSystemDirectoryHandle | null> {
  try {
    const root = await navigator.storage.getDirectory();
    return await root.getDirectoryHandle(name, { create: true });
  } catch {
    return null;
  }
}

/** Of what something is kept here. */
export async function keptTakes(folder: KeptFolder = 'takes'): Promise<string[]> {
  const takes: string[] = [];
  for await (const name of (await folderOf(folder))?.keys() ?? []) takes.push(name);
  return takes;
}

interface OpenSegment {
  segment: number;
  handle: FileSystemSyncAccessHandle;
}

/** A take being written here. Only for workers: pages may not write synchronously. */
export interface KeptTake<Kept extends Meta = TakeMeta> {
  writeMeta(meta: Kept): Promise<void>;
  /** Opens a segment ahead of time, so that nothing has to wait for it. */
  open(segment: number): Promise<void>;
  /** Appends to a segment; what it returns from survives the page and the browser, and a power cut once it was flushed. */
  append(segment: number, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  /** All of a segment; null where there is none. */
  readSegment(segment: number): Promise<ArrayBuffer | null>;
  /** Writes down what time it is. */
  noteTime(time: KeptTime): void;
  /** Cuts off what is no whole record at the end of a segment. */
  trim(segment: number, recordBytes: number): Promise<void>;
  /** Holds no file any more. */
  close(): Promise<void>;
  /** Lets go of segments below this one: they are safe elsewhere. */
  release(below: number): Promise<void>;
  /** Lets go of the whole take. */
  remove(): Promise<void>;
}

/** Begins to keep a take on this browser's disk; null where that cannot be. */
export async function keepTake<Kept extends Meta = TakeMeta>(take: string, within: KeptFolder = 'takes'): Promise<KeptTake<Kept> | null> {
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
  const openSegment = async (segment: number): Promise<OpenSegment> => ({ segment, handle: await openFile(await folder.getFileHandle(segmentName(segment), { create: true })) });
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
    if (next && next.opening !== ahead) void next.opening.then(({ handle }) => handle.close(), () => undefined);
    next = null;
    return (open = await ahead);
  };
  const kept: KeptTake<Kept> = {
    async writeMeta(meta) {
      const name = META[++revision % 2];
      const handle = await openFile(await folder.getFileHandle(name, { create: true }));
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
      clock ??= await openFile(await folder.getFileHandle(TIME, { create: true }));
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
      flush(segmentName(segment), handle);
      flushedAt = performance.now();
    },
    async readSegment(segment) {
      const file = await folder.getFileHandle(segmentName(segment)).catch(() => null);
      return file ? (await file.getFile()).arrayBuffer() : null;
    },
    noteTime({ sample, at }) {
      clock?.write(new Uint8Array(Float64Array.of(sample, at).buffer), { at: 0 });
    },
    async trim(segment, bytes) {
      const handle = await openFile(await folder.getFileHandle(segmentName(segment)));
      handle.truncate(handle.getSize() - (handle.getSize() % bytes));
      handle.flush();
      handle.close();
    },
    async release(below) {
      for (; released < below; released++) {
        if (open?.segment === released) {
          open.handle.close();
          open = null;
        }
        try {
          await folder.removeEntry(segmentName(released));
        } catch (error) {
          // Nothing was written there; or it is just being flushed, and goes the next time.
          if ((error as Error).name !== 'NotFoundError') return;
        }
      }
    },
    async close() {
      open?.handle.close();
      clock?.close();
      (await next?.opening.catch(() => null))?.handle.close();
      open = next = clock = null;
      flusher?.stop();
      flusher = null;
    },
    async remove() {
      await kept.close();
      // What was being flushed is let go of a moment later.
      for (let tries = 0; tries < REMOVE_TRIES; tries++) {
        if (await takes.removeEntry(take, { recursive: true }).then(() => true, () => false)) return;
        await pause(REMOVE_AGAIN_MS);
      }
    },
  };
  return kept;
}

/** What is kept of a take. */
export interface KeptRest<Kept extends Meta = TakeMeta> {
  meta: Kept;
  /** Null where it was never written. */
  time: KeptTime | null;
  /** In order; the first need not be 0. */
  segments: { segment: number; read(): Promise<ArrayBuffer> }[];
}

/** Reads what is kept of a take; null when nothing of use is. */
export async function readKept<Kept extends Meta = TakeMeta>(take: string, within: KeptFolder = 'takes'): Promise<KeptRest<Kept> | null> {
  try {
    const folder = await (await folderOf(within))!.getDirectoryHandle(take);
    const meta = await readMeta<Kept>(folder);
    if (!meta) return null;
    const names: string[] = [];
    for await (const name of folder.keys()) if (name.endsWith('.blocks')) names.push(name);
    const segments = names.sort().map((name) => ({
      segment: Number.parseInt(name, 10),
      read: async () => (await (await folder.getFileHandle(name)).getFile()).arrayBuffer(),
    }));
    if (segments.length === 0) return null;
    // A take whose desk went before it had noted when it began: its first record says so.
    meta.clockAtStart ??= await firstClock(segments[0]);
    return meta.clockAtStart === null ? null : { meta, time: await readTime(folder), segments };
  } catch {
    return null;
  }
}

async function firstClock({ segment, read }: { segment: number; read(): Promise<ArrayBuffer> }): Promise<number | null> {
  const bytes = await read();
  return segment === 0 && bytes.byteLength >= 8 ? new DataView(bytes).getFloat64(0, true) : null;
}

async function readTime(folder: FileSystemDirectoryHandle): Promise<KeptTime | null> {
  try {
    const [sample, at] = new Float64Array(await (await (await folder.getFileHandle(TIME)).getFile()).arrayBuffer());
    return at > 0 ? { sample, at } : null;
  } catch {
    return null;
  }
}

/** The newer of the two that can be read. */
async function readMeta<Kept extends Meta>(folder: FileSystemDirectoryHandle): Promise<(Kept & { revision: number }) | null> {
  const found = await Promise.all(
    META.map(async (name) => {
      try {
        return JSON.parse(await (await (await folder.getFileHandle(name)).getFile()).text()) as Kept & { revision: number };
      } catch {
        return null;
      }
    }),
  );
  return found.filter((one) => one !== null).sort((a, b) => b.revision - a.revision)[0] ?? null;
}

export async function forgetKept(take: string, within: KeptFolder = 'takes'): Promise<void> {
  await (await folderOf(within))?.removeEntry(take, { recursive: true }).catch(() => undefined);
}
