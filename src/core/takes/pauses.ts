import { z } from '../zod';

/** Recording was paused: the take goes on at the same sample, so much later. */
export interface TakePause {
  atSample: number;
  /** What was not recorded, samples. */
  lengthSamples: number;
}

export const pauseSchema: z.ZodType<TakePause> = z.strictObject({ atSample: z.number().int().nonnegative(), lengthSamples: z.number().int().positive() });

/** A source that is left out of a take, and why. */
export interface LeftOut {
  recorded: string;
  name: string;
  reason: string;
}

export const leftOutSchema: z.ZodType<LeftOut> = z.strictObject({ recorded: z.string().max(60), name: z.string().max(80), reason: z.string().trim().min(1, 'Say why it is left out.').max(200) });

/** The sample of a take that was captured so long after its first one; a moment within a pause is where the take goes on. */
export function takeSampleAt(samplesSinceStart: number, pauses: readonly TakePause[]): number {
  let at = samplesSinceStart;
  for (const { atSample, lengthSamples } of pauses) {
    if (at <= atSample) break;
    at = Math.max(atSample, at - lengthSamples);
  }
  return at;
}
