import { folderOf, isSegmentFile, readMeta, TIME_FILE, type KeptFolder, type KeptMeta, type KeptTime, type TakeMeta } from './kept-files';

/** Of what something is kept here. */
export async function keptTakes(folder: KeptFolder = 'takes'): Promise<string[]> {
  const takes: string[] = [];
  for await (const name of (await folderOf(folder))?.keys() ?? []) takes.push(name);
  return takes;
}

/** What is kept of a take. */
export interface KeptRest<Kept extends KeptMeta = TakeMeta> {
  meta: Kept;
  /** Null where it was never written. */
  time: KeptTime | null;
  /** In order; the first need not be 0. */
  segments: { segment: number; read(): Promise<ArrayBuffer> }[];
}

/** Reads what is kept of a take; null when nothing of use is. */
export async function readKept<Kept extends KeptMeta = TakeMeta>(take: string, within: KeptFolder = 'takes'): Promise<KeptRest<Kept> | null> {
  try {
    const folder = await (await folderOf(within))!.getDirectoryHandle(take);
    const meta = await readMeta<Kept>(folder);
    if (!meta) return null;
    const names: string[] = [];
    for await (const name of folder.keys()) if (isSegmentFile(name)) names.push(name);
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
    const [sample, at] = new Float64Array(await (await (await folder.getFileHandle(TIME_FILE)).getFile()).arrayBuffer());
    return at > 0 ? { sample, at } : null;
  } catch {
    return null;
  }
}
