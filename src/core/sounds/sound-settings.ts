import { z } from '../zod';
import { CEILING_DBTP, KIND_LUFS, SOUND_KINDS, type SoundKind } from './sound-kind';

/** How a show deals with its sounds. */
export interface SoundSettings {
  /** Loudness each kind is brought to, LUFS. */
  levels: Record<SoundKind, number>;
  /** No sound is brought above this true peak, dBTP. */
  ceilingDbtp: number;
  /** How long a fade of all sounds, or of one, takes. */
  fadeSeconds: number;
  /** How long one sound of a group takes to give way to another. */
  crossfadeSeconds: number;
  /** From theme to talk: down so far in so long, there for so long, out in so long. */
  underTalk: { underDb: number; underSeconds: number; holdSeconds: number; outSeconds: number };
}

const lufs = z.number().min(-50).max(-10);
const seconds = z.number().min(0.01).max(60);

export const soundSettingsSchema = z.strictObject({
  levels: z.strictObject(Object.fromEntries(SOUND_KINDS.map((kind) => [kind, lufs.default(KIND_LUFS[kind])])) as Record<SoundKind, z.ZodDefault<z.ZodNumber>>).prefault({}),
  ceilingDbtp: z.number().min(-12).max(0).default(CEILING_DBTP),
  fadeSeconds: seconds.default(3),
  crossfadeSeconds: seconds.default(2),
  underTalk: z
    .strictObject({
      underDb: z.number().min(-40).max(0).default(-14),
      underSeconds: seconds.default(2),
      holdSeconds: seconds.default(8),
      outSeconds: seconds.default(4),
    })
    .prefault({}),
});

/** What a show does that never said otherwise. */
export const DEFAULT_SOUND_SETTINGS: SoundSettings = Object.freeze(soundSettingsSchema.parse({}));
