import { z } from '../zod';
import { SAMPLE_FORMATS } from '../formats/wav/sample-format';
import { hearingPlanSchema } from '../hearing/plan-schema';
import { MOST_TRACKS } from '../limits';
import { SAMPLE_RATE } from './chunks';
import { GAP_CAUSES } from './gaps';
import { markerSchema } from './markers';
import { leftOutSchema, pauseSchema } from './pauses';
import { keptHandsSchema } from './plan-log';
import { takePlugsSchema } from './plugs';
import { TRACK_KINDS } from './track-kinds';

/** The manifest's form. Another one is another program's, or an older version's. */
export const PACKAGE_FORM = 1;
export const MANIFEST = 'manifest.json';

const samples = z.number().int().min(0).max(2 ** 40);

/** A track’s file in a package. */
const fileSchema = z.object({
  file: z.string().min(1).max(255),
  /** Its id where it was made; gaps and what was made of it name it. */
  track: z.uuid(),
  person: z.string().trim().min(1).max(200),
  kind: z.enum(TRACK_KINDS),
  recorded: z.string().regex(/^(program|[a-z]+:[a-z0-9-]{1,40})$/),
  channels: z.union([z.literal(1), z.literal(2)]),
  format: z.enum(SAMPLE_FORMATS),
  bytes: samples,
  fromSample: samples,
  derivedFrom: z.uuid().nullable(),
  made: z.record(z.string(), z.unknown()).nullable(),
});

/** What a take is beside its sound: all that another installation needs to take it in. */
export const takenInSchema = z.object({
  form: z.literal(PACKAGE_FORM),
  name: z.string().max(200),
  note: z.string().max(20_000),
  startedAt: z.iso.datetime(),
  sampleRate: z.literal(SAMPLE_RATE),
  lengthSamples: samples.min(1),
  files: z.array(fileSchema).min(1).max(4 * MOST_TRACKS),
  people: z.array(z.object({ seat: z.string().max(60), name: z.string().max(200), consent: z.string().max(4000), agreedAt: z.iso.datetime() })).max(200),
  markers: z.array(markerSchema).max(2000),
  plays: z.array(z.object({ name: z.string().max(200), kind: z.string().max(20), fileName: z.string().max(300), atSample: samples, lengthSamples: samples, gainDb: z.number(), peakDb: z.number().nullable(), rmsDb: z.number().nullable() })).max(5000),
  plan: hearingPlanSchema,
  hands: keptHandsSchema,
  notRecorded: z.array(leftOutSchema).max(MOST_TRACKS),
  pauses: z.array(pauseSchema).max(20_000),
  devices: z.array(takePlugsSchema).max(5000),
});
export type TakenIn = z.infer<typeof takenInSchema>;

/** The whole manifest, as far as it is read again. */
export const packageSchema = takenInSchema.extend({
  gaps: z.array(z.object({ track: z.uuid(), atSample: samples, lengthSamples: samples.min(1), cause: z.enum(GAP_CAUSES) })).max(1_000_000),
  planChanges: z.array(z.object({ atSample: samples, plan: hearingPlanSchema, hands: keptHandsSchema, rampSeconds: z.number().min(0).max(60).optional() })).max(1_000_000),
});
export type TakePackage = z.infer<typeof packageSchema>;
