import { z } from '../zod';
import { CLOSED_STRIP, STRIP_RANGES, type StripSettings } from './settings';

const on = z.boolean();

const numbers = <Name extends string>(ranges: Record<Name, readonly [number, number]>) =>
  Object.fromEntries(Object.entries<readonly [number, number]>(ranges).map(([name, [least, most]]) => [name, z.number().min(least).max(most)])) as Record<Name, z.ZodNumber>;

const band = z.strictObject(numbers(STRIP_RANGES.band));

/** A strip as it crosses a boundary. */
export const stripSchema: z.ZodType<StripSettings> = z.strictObject({
  lowCut: z.strictObject({ on, ...numbers(STRIP_RANGES.lowCut) }),
  noise: z.strictObject({ on }),
  gate: z.strictObject({ on, ...numbers(STRIP_RANGES.gate) }),
  equaliser: z.strictObject({ on, bands: z.array(band).length(CLOSED_STRIP.equaliser.bands.length) }),
  compressor: z.strictObject({ on, ...numbers(STRIP_RANGES.compressor) }),
  deEsser: z.strictObject({ on, ...numbers(STRIP_RANGES.deEsser) }),
  limiter: z.strictObject({ on, ...numbers(STRIP_RANGES.limiter) }),
});
