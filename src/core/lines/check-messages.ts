import { z } from '../zod';

const db = z.number().min(-400).max(100).nullable();
const number = z.number().int().min(0);

/** What the desk says over a line while it checks. */
export const checkForGuestSchema = z.discriminatedUnion('type', [
  /** A check begins in a moment: what will be sent, and what of it should arrive here. */
  z.strictObject({
    type: z.literal('check'),
    number,
    inMs: z.number().min(0).max(60_000),
    seconds: z.number().min(0).max(60),
    seed: z.number().int(),
    /** Level of the sources' probes, dBFS. */
    sourcesDb: z.number().min(-120).max(0),
    /** Level of each source in this guest's return; null where it is closed. */
    plannedDb: z.array(db).max(100),
    listeners: z.number().int().min(1).max(100),
    /** Which of the listeners this guest is. */
    own: z.number().int().min(0).max(99),
  }),
  z.strictObject({ type: z.literal('check-stage'), number, stage: z.enum(['sources', 'listeners', 'again']) }),
  /** All was sent: say what arrived. */
  z.strictObject({ type: z.literal('check-over'), number, brokenOff: z.boolean() }),
]);
export type CheckForGuest = z.infer<typeof checkForGuestSchema>;
export type CheckAhead = Extract<CheckForGuest, { type: 'check' }>;

/** What a guest is asked about what they hear. */
export const ASKED_ABOUT = ['host', 'sounds', 'self'] as const;
export type AskedAbout = (typeof ASKED_ABOUT)[number];

/** The desk asks what is heard; the guest answers one thing after another. */
export const askSchema = z.strictObject({ type: z.literal('ask'), number, host: z.string().max(60) });
export type Ask = z.infer<typeof askSchema>;
export const answerSchema = z.strictObject({ type: z.literal('answer'), number, about: z.enum(ASKED_ABOUT), yes: z.boolean() });
export type Answer = z.infer<typeof answerSchema>;

/** A guest who waits asks to hear their own voice over the whole line. */
export const hearMyselfSchema = z.strictObject({ type: z.literal('hear-myself') });
/** The desk begins with that, or cannot now. */
export const testCallSchema = z.strictObject({ type: z.literal('test-call'), state: z.enum(['begun', 'not-now']) });
export type TestCallSaid = z.infer<typeof testCallSchema>;

/** The others hear themselves by way of this guest: would they put on headphones, or (cancel) their browser takes it out from now on. */
export const wishSchema = z.strictObject({ type: z.literal('no-echo'), host: z.string().max(60), cancel: z.boolean() });
export type Wish = z.infer<typeof wishSchema>;

const farEndSchema = z.strictObject({
  measuredDb: z.array(db).max(100),
  lineDb: db,
  /** Null where nothing arrived. */
  floorDb: db,
});

/** What a guest's page measured at its end. */
export const checkReportSchema = z.strictObject({
  type: z.literal('check-report'),
  number,
  sources: farEndSchema,
  listeners: farEndSchema,
  /** How much of what the loudspeakers or headphones are given the microphone hears; null for nothing. */
  leak: z.strictObject({ gainDb: z.number().min(-200).max(60), delayMs: z.number().min(0).max(2000) }).nullable(),
});
export type CheckReport = z.infer<typeof checkReportSchema>;
