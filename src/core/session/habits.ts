import type { Cough } from '../hearing/on-air';
import { z } from '../zod';

/** How a desk behaves where nobody says otherwise. */
export interface DeskHabits {
  /** Which mixes the cough keeps the host out of. */
  coughKeepsOut: Cough;
  /** Listening to one source or another mix ends by itself after so long, s. */
  listenSeconds: number;
  /** How far everything else goes down while somebody talks privately, dB. */
  talkDimDb: number;
  /** Whether the program, the returns, the phones and the feeds are recorded beside the sources. */
  recordMixes: boolean;
  /** Whether what is said privately gets a track as well. */
  recordTalkback: boolean;
  /** Whether voices that are processed get a track of that as well, beside the one as they came in. */
  recordProcessed: boolean;
  /** A take stops by itself after so many minutes; 0 for never. */
  stopAfterMinutes: number;
}

const shape = {
  coughKeepsOut: z.strictObject({ callers: z.boolean(), program: z.boolean() }),
  listenSeconds: z.number().int().min(5).max(3600),
  talkDimDb: z.number().min(0).max(40),
  recordMixes: z.boolean(),
  recordTalkback: z.boolean(),
  recordProcessed: z.boolean(),
  stopAfterMinutes: z.number().int().min(0).max(1440),
};

export const DEFAULT_HABITS: DeskHabits = Object.freeze({
  coughKeepsOut: { callers: true, program: true },
  listenSeconds: 30,
  talkDimDb: 12,
  recordMixes: false,
  recordTalkback: false,
  recordProcessed: false,
  stopAfterMinutes: 0,
});

/** A show's habits, all of them. */
export const habitsSchema: z.ZodType<DeskHabits> = z.strictObject(shape);
/** What one episode does otherwise than its show. */
export const ownHabitsSchema: z.ZodType<Partial<DeskHabits>> = z.strictObject(shape).partial();

export const HABIT_NAMES = Object.keys(DEFAULT_HABITS) as (keyof DeskHabits)[];

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Which habits an episode has otherwise than its show. */
export const otherThan = (show: DeskHabits, episode: DeskHabits): (keyof DeskHabits)[] => HABIT_NAMES.filter((name) => !same(show[name], episode[name]));

/** What has to be kept of an episode's habits: nothing where it does as its show does. */
export const ownHabits = (show: DeskHabits, episode: DeskHabits): Partial<DeskHabits> => Object.fromEntries(otherThan(show, episode).map((name) => [name, episode[name]]));
