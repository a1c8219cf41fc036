import { FRAME_WAYS } from '../takes/framing';
import { z } from '../zod';

/** Long work on a take, done by a worker. */
export const TASK_KINDS = ['check', 'export', 'repair', 'quieten', 'home'] as const;
export type TaskKind = (typeof TASK_KINDS)[number];

export const TASK_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const;
export type TaskState = (typeof TASK_STATES)[number];

export const SOUND_FILES = ['wav', 'flac', 'mp3', 'opus'] as const;
export type SoundFile = (typeof SOUND_FILES)[number];

const frameSchema = z.strictObject({ sound: z.uuid(), way: z.enum(FRAME_WAYS) }).nullable().default(null);

/** What an export holds. */
export const exportSchema = z.strictObject({
  /** `tracks`: every chosen track, in one ZIP with its papers; `mix`: one file of all; `track`: one file of one. */
  what: z.enum(['tracks', 'mix', 'track']),
  /** Tracks by id; all sources when empty. */
  tracks: z.array(z.uuid()).max(200).default([]),
  file: z.enum(SOUND_FILES).default('wav'),
  rate: z.union([z.literal(48000), z.literal(44100)]).default(48000),
  /** A mix: the program as it was recorded, or made anew from the tracks by the plan. */
  from: z.enum(['plan', 'program']).default('plan'),
  /** Brought to the show's loudness, held under its ceiling. */
  normalise: z.boolean().default(true),
  /** A mix: without the silence before the first and after the last sound. */
  cutEnds: z.boolean().default(false),
  /** A mix: sounds of the library before or under its beginning, and after or under its end. */
  opening: frameSchema,
  closing: frameSchema,
  /** A mix: a chapter for each longer sound that was played, beside those of the markers. */
  soundChapters: z.boolean().default(false),
  /** A mix: only its first and last ten seconds as WAV, to hear before the file is made. */
  ends: z.boolean().default(false),
});
export type ExportParams = z.infer<typeof exportSchema>;

/** How a show finishes its mixes: whatever of an export is not about one take. */
export const mixSettingsSchema = exportSchema.pick({ file: true, rate: true, normalise: true, cutEnds: true, opening: true, closing: true, soundChapters: true });
export type MixSettings = z.infer<typeof mixSettingsSchema>;

/** What a host can ask for. */
export const askedTaskSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('check'), params: z.strictObject({}).default({}) }),
  z.strictObject({ kind: z.literal('export'), params: exportSchema }),
  /** Places what the owner of a line track recorded at home, and makes the best of both. */
  z.strictObject({ kind: z.literal('home'), params: z.strictObject({ track: z.uuid() }) }),
  z.strictObject({ kind: z.literal('repair'), params: z.strictObject({ track: z.uuid() }) }),
  /** Makes a voice track without its noise. */
  z.strictObject({ kind: z.literal('quieten'), params: z.strictObject({ track: z.uuid() }) }),
]);
export type Task = z.infer<typeof askedTaskSchema>;

/** What holds work up: a take that is recorded, a call that runs, or other programs on the machine. */
export const HELD_UP = ['recording', 'call', 'machine'] as const;
export type HeldUp = (typeof HELD_UP)[number];

/** A task as a page shows it. */
export interface TaskData {
  id: string;
  kind: TaskKind;
  params: Task['params'];
  state: TaskState;
  /** 0 to 1. */
  progress: number;
  result: unknown;
  /** What went wrong and what to do. */
  problem: string | null;
  /** ISO 8601. */
  askedAt: string;
  /** Why it takes longer than it would by itself; null while nothing holds it up. */
  heldUp: HeldUp | null;
  /** Other work that is to be done before it, while it waits. */
  before: number;
  file: { name: string; bytes: number } | null;
}
