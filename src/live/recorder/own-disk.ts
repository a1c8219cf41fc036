import type { TakePause } from '@/core/takes/pauses';
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
}

const FOLDER = 'takes';
/** Two, written in turn: a crash in the middle of one leaves the other. */
const META = ['take-0.json', 'take-1.json'];
const segmentName = (segment: number): string => `${String(segment).padStart(6, '0')}.blocks`;

/** The takes kept on this browser's own disk (Origin Private File System); null where it has none. */
async function takesFolder(): Promise<FileSystemDirectoryHandle | null> {
  try {
    const root = await navigator.storage.getDirectory();
    return await root.getDirectoryHandle(FOLDER, { create: true });
  } catch {
    return null;
  }
}

/** Takes of which something is kept here. */
export async function keptTakes(): Promise<string[]> {
  const takes: string[] = [];
  for await (const name of (await takesFolder())?.keys() ?? []) takes.push(name);
  return takes;
}

/** A take being written here. Only for workers: pages may not write synchronously. */
export interface KeptTake {
  writeMeta(meta: TakeMeta): Promise<void>;
  /** Appends to a segment; what it returns from is on the disk. */
  append(segment: number, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  /** Lets go of segments below this one: they are safe elsewhere. */
  release(below: number): Promise<void>;
  /** Lets go of the whole take. */
  remove(): Promise<void>;
}

/** Begins to keep a take on this browser's disk; null where that cannot be. */
export async function keepTake(take: string): Promise<KeptTake | null> {
  const takes = await takesFolder();
  if (!takes) return null;
  const folder = await takes.getDirectoryHandle(take, { create: true });
  let open: { segment: number; handle: FileSystemSyncAccessHandle } | null = null;
  let released = 0;
  let revision = 0;
  const close = () => {
    open?.handle.close();
    open = null;
  };
  return {
    async writeMeta(meta) {
      const file = await folder.getFileHandle(META[++revision % 2], { create: true });
      const handle = await file.createSyncAccessHandle();
      try {
        const bytes = new TextEncoder().encode(JSON.stringify({ ...meta, revision }));
        handle.truncate(0);
        handle.write(bytes, { at: 0 });
        handle.flush();
      } finally {
        handle.close();
      }
    },
    async append(segment, bytes) {
      if (open?.segment !== segment) {
        close();
        const file = await folder.getFileHandle(segmentName(segment), { create: true });
        open = { segment, handle: await file.createSyncAccessHandle() };
      }
      const { handle } = open!;
      const written = handle.write(bytes, { at: handle.getSize() });
      if (written < bytes.length) throw new Error('This computer’s disk is full.');
      handle.flush();
    },
    async release(below) {
      for (; released < below; released++) {
        if (open?.segment === released) close();
        await folder.removeEntry(segmentName(released)).catch(() => undefined);
      }
    },
    async remove() {
      close();
      await takes.removeEntry(take, { recursive: true });
    },
  };
}

/** What is kept of a take. */
export interface KeptRest {
  meta: TakeMeta;
  /** In order; the first need not be 0. */
  segments: { segment: number; read(): Promise<ArrayBuffer> }[];
}

/** Reads what is kept of a take; null when nothing of use is. */
export async function readKept(take: string): Promise<KeptRest | null> {
  try {
    const folder = await (await takesFolder())!.getDirectoryHandle(take);
    const meta = await readMeta(folder);
    if (!meta) return null;
    const names: string[] = [];
    for await (const name of folder.keys()) if (name.endsWith('.blocks')) names.push(name);
    const segments = names.sort().map((name) => ({
      segment: Number.parseInt(name, 10),
      read: async () => (await (await folder.getFileHandle(name)).getFile()).arrayBuffer(),
    }));
    return meta.clockAtStart === null || segments.length === 0 ? null : { meta, segments };
  } catch {
    return null;
  }
}

/** The newer of the two that can be read. */
async function readMeta(folder: FileSystemDirectoryHandle): Promise<TakeMeta | null> {
  const found = await Promise.all(
    META.map(async (name) => {
      try {
        return JSON.parse(await (await (await folder.getFileHandle(name)).getFile()).text()) as TakeMeta & { revision: number };
      } catch {
        return null;
      }
    }),
  );
  return found.filter((one) => one !== null).sort((a, b) => b.revision - a.revision)[0] ?? null;
}

export async function forgetKept(take: string): Promise<void> {
  await (await takesFolder())?.removeEntry(take, { recursive: true }).catch(() => undefined);
}
