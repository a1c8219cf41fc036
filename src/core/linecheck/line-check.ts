import { z } from '../zod';
import { listenerId, sourceId } from '../hearing/plan-schema';

const db = z.number().min(-300).max(100).nullable();

/** What a line check found, as it is kept and given out. */
export const lineCheckSchema = z.strictObject({
  version: z.literal(1),
  seed: z.number().int(),
  at: z.iso.datetime(),
  seconds: z.number().min(0).max(60),
  /** Number of the plan it checked. */
  planVersion: z.number().int().min(0),
  /** Whether a second pass looked behind what was loudest. */
  passes: z.union([z.literal(1), z.literal(2)]),
  /** Names as they were. */
  names: z.record(z.string().max(60), z.string().max(200)),
  crosspoints: z
    .array(z.strictObject({ source: sourceId, listener: listenerId, plannedDb: db, engineDb: db, /** Absent where nobody measures at the other end. */ farDb: db.optional() }))
    .max(2000),
  /** Ways back outside the desk: what a listener is sent arrives in a source. */
  waysBack: z.array(z.strictObject({ from: listenerId, to: sourceId, gainDb: z.number(), delayMs: z.number(), pass: z.union([z.literal(1), z.literal(2)]) })).max(500),
  /** A mix of somebody else that arrives at a listener's end. */
  otherMixes: z.array(z.strictObject({ from: listenerId, at: listenerId, gainDb: z.number() })).max(500),
  /** What each input could have told: below the floor nothing is found. */
  inputs: z.array(z.strictObject({ source: sourceId, floorDb: db, digitalSilence: z.boolean() })).max(200),
  /** What broke off while it was listened to: a device that stood still, a link on which sound had to be made up. */
  broke: z.array(z.union([sourceId, listenerId])).max(200).default([]),
  /** What the other end of each line said; null where it did not answer. */
  farEnds: z.array(z.strictObject({ listener: listenerId, lineDb: db, floorDb: db, answered: z.boolean(), /** What of it the microphone there hears, without the line; null for nothing. */ leak: z.strictObject({ gainDb: z.number(), delayMs: z.number() }).nullable() })).max(200),
  /** A take that ran meanwhile. */
  duringTake: z.string().max(60).nullable(),
});

export type LineCheck = z.infer<typeof lineCheckSchema>;
export type WayBack = LineCheck['waysBack'][number];
