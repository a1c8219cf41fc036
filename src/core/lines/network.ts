import { z } from '../zod';

/** What a network lets through of a call, as far as a page can find out before there is one. */
export const networkFoundSchema = z.strictObject({
  /** Packets go out by UDP and an answer comes back, without which no direct call comes about. Null where nobody outside was there to ask. */
  direct: z.boolean().nullable(),
  /** A call came about through the relay alone. Null where there is none. */
  relay: z.boolean().nullable(),
});
export type NetworkFound = z.infer<typeof networkFoundSchema>;

/** Whether a call comes about: yes, no, only if the direct way is enough, or null where there was nobody to ask. */
export function letsThrough({ direct, relay }: NetworkFound): 'yes' | 'perhaps' | 'no' | null {
  if (relay === true) return 'yes';
  if (direct === true) return 'perhaps';
  return relay === null && direct === null ? null : 'no';
}
