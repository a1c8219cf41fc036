import { z } from '../zod';
import { HIGHEST_DB, LOWEST_DB } from '../hearing/plan';
import { KEY_PATTERN } from '../session/desk-actions';
import { PAD_MODES, PRESS_AGAIN, type PadMode, type PressAgain } from './pad-modes';

/** A pad as a board keeps it: which sound, where it goes and how it plays. */
export interface BoardPad {
  sound: string;
  /** The sound player it belongs to, as named in the hearing plan. */
  player: string;
  /** Pads with one key start together; the empty key is for those that are only pressed. */
  key: string;
  mode: PadMode;
  again: PressAgain;
  /** Sounds of one group give way to each other; null for none. */
  group: string | null;
  /** The pad's own trim, dB. */
  levelDb: number;
}

/** The most pads of a board. */
export const MOST_PADS = 64;

export const boardSchema: z.ZodType<BoardPad[]> = z
  .array(
    z.strictObject({
      sound: z.uuid(),
      player: z.string().regex(/^[a-z0-9-]{1,40}$/),
      key: z.union([z.literal(''), z.string().regex(KEY_PATTERN, 'must be one key that types something, in lower case')]),
      mode: z.enum(PAD_MODES),
      again: z.enum(PRESS_AGAIN),
      group: z.string().trim().min(1).max(30).nullable(),
      levelDb: z.number().min(LOWEST_DB).max(HIGHEST_DB),
    }),
  )
  .max(MOST_PADS)
  .refine((pads) => new Set(pads.map(({ sound }) => sound)).size === pads.length, 'must not hold one sound twice');

/** What a board keeps of pads that know more. */
export const asBoard = (pads: readonly BoardPad[]): BoardPad[] =>
  pads.map(({ sound, player, key, mode, again, group, levelDb }) => ({ sound, player, key, mode, again, group, levelDb }));
