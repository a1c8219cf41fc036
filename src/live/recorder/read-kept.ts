import { folderOf, segmentIn, readMeta, timeFile, type KeptFolder, type KeptMeta, type TakeMeta } from './kept-files';
import type { KeptTime } from './kept-time';

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
  segments: { segment: number; part: number; read(): Promise<ArrayBuffer> }[];
}

/** Reads what is kept of a take; null when nothing of use is. */
export async function readKept<Kept extends KeptMeta = TakeMeta>(take: string, within: KeptFolder = 'takes'): Promise<KeptRest<Kept> | null> {
  try {
    const folder = await (await folderOf(within))!.getDirectoryHandle(take);
    const meta = await readMeta<Kept>(folder);
    if (!meta) return null;
    const segments: KeptRest['segments'] = [];
    for await (const name of folder.keys()) {
      const found = segmentIn(name);
      if (found) segments.push({ ...found, read: async () => (await (await folder.getFileHandle(name)).getFile()).arrayBuffer() });
    }
    segments.sort((a, b) => a.part - b.part || a.segment - b.segment);
    if (segments.length === 0) return null;
    // A take whose desk went before it had noted when it began: its first record says so.
    meta.clockAtStart ??= await firstClock(segments[0]);
    return meta.clockAtStart === null ? null : { meta, time: await readTime(folder, segments.at(-1)!.part), segments };
  } catch {
    return null;
  }
}

async function firstClock({ segment, read }: { segment: number; read(): Promise<ArrayBuffer> }): Promise<number | null> {
  const bytes = await read();
  return segment === 0 && bytes.byteLength >= 8 ? new DataView(bytes).getFloat64(0, true) : null;
}

async function readTime(folder: FileSystemDirectoryHandle, part: number): Promise<KeptTime | null> {
  try {
    const [sample, at] = new Float64Array(await (await (await folder.getFileHandle(timeFile(part))).getFile()).arrayBuffer());
    return at > 0 ? { sample, at } : null;
  } catch {
    return null;
  }
}
