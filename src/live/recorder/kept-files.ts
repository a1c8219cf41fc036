import type { LostStretch } from '@/core/takes/chunker';
import type { LeftOut, TakePause } from '@/core/takes/pauses';
import type { PlanInForce } from '@/core/takes/plan-log';
import type { LineGap, RecordedTrack } from './messages';

/** Everything that is needed to finish a take from what this browser's own disk has of it. */
export interface TakeMeta {
  take: string;
  tracks: RecordedTrack[];
  /** How many of the tracks each part of the recording holds: a take that got more tracks has a part with each number. */
  parts: number[];
  clockAtCall: number | null;
  /** Where the take's first sample stands in what is kept; null while there is none. */
  clockAtStart: number | null;
  /** Session clock of the take's first sample; null until the audio thread said so. */
  sessionClock: number | null;
  /** Plans that came into force and are not on the server yet, and how many are. */
  planChanges: PlanInForce[];
  plansSent: number;
  lineGaps: LineGap[];
  pauses: TakePause[];
  leftOut: LeftOut[];
  /** Samples at which a desk was left: what is missing from there on is the time without one. */
  leftAt: number[];
  /** What was lost before it reached this disk. */
  losses: LostStretch[];
}

/** Takes of a desk, and recordings of guests' own microphones, are kept apart. */
export type KeptFolder = 'takes' | 'home';

/** What is written down beside the sound, so that it can be sent by whoever finds it. */
export interface KeptMeta {
  /** Session clock of the first sample; null while there is none. */
  clockAtStart: number | null;
}

/** Two, written in turn: a crash in the middle of one leaves the other. */
export const META_FILES = ['take-0.json', 'take-1.json'];
/** What time it was, of one part of the recording: whoever writes the next part has a file of its own. */
export const timeFile = (part: number): string => `time${part === 0 ? '' : `+${part}`}.bin`;
const SEGMENT_ENDING = '.blocks';
/** The file of a segment, in one part of the recording. */
export const segmentFile = (segment: number, part = 0): string => `${String(segment).padStart(6, '0')}${part === 0 ? '' : `+${part}`}${SEGMENT_ENDING}`;

/** Which segment and part a file holds; null for another file. */
export function segmentIn(name: string): { segment: number; part: number } | null {
  const [, segment, part = '0'] = /^(\d+)(?:\+(\d+))?\.blocks$/.exec(name) ?? [];
  return segment === undefined ? null : { segment: Number(segment), part: Number(part) };
}

/** What is kept on this browser's own disk (Origin Private File System); null where it has none. */
export async function folderOf(name: KeptFolder): Promise<FileSystemDirectoryHandle | null> {
  try {
    const root = await navigator.storage.getDirectory();
    return await root.getDirectoryHandle(name, { create: true });
  } catch {
    return null;
  }
}

/** The newer of the two that can be read. */
export async function readMeta<Kept extends KeptMeta>(folder: FileSystemDirectoryHandle): Promise<(Kept & { revision: number }) | null> {
  const found = await Promise.all(
    META_FILES.map(async (name) => {
      try {
        return JSON.parse(await (await (await folder.getFileHandle(name)).getFile()).text()) as Kept & { revision: number };
      } catch {
        return null;
      }
    }),
  );
  return found.filter((one) => one !== null).sort((a, b) => b.revision - a.revision)[0] ?? null;
}
