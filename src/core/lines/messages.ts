import { z } from '../zod';
import { answerSchema, checkReportSchema, hearMyselfSchema } from './check-messages';
import { directionReportSchema } from './line-report';
import { networkFoundSchema } from './network';

/** The longest session description taken; real ones are below 6 kB. */
const LONGEST_SDP = 32_000;
const uuid = z.uuid();
const shortText = z.string().max(120);

const description = z.strictObject({
  type: z.literal('description'),
  /** Which peer connection this belongs to; the desk makes a new id for each. */
  connection: uuid,
  description: z.strictObject({ type: z.enum(['offer', 'answer', 'pranswer', 'rollback']), sdp: z.string().max(LONGEST_SDP) }),
});

const candidate = z.strictObject({
  type: z.literal('candidate'),
  connection: uuid,
  /** Null says that there are no more. */
  candidate: z
    .strictObject({
      candidate: z.string().max(1000),
      sdpMid: z.string().max(20).nullable().optional(),
      sdpMLineIndex: z.number().int().min(0).max(20).nullable().optional(),
      usernameFragment: z.string().max(300).nullable().optional(),
    })
    .nullable(),
});

export const GUEST_PHASES = ['opened', 'checking', 'ready', 'left'] as const;
export type GuestPhase = (typeof GUEST_PHASES)[number];

/** How far a guest is and what their page found out about their side. */
const guestStatus = z.strictObject({
  type: z.literal('status'),
  /** New with every load of the page, and whenever the page wants a new connection. */
  page: uuid,
  phase: z.enum(GUEST_PHASES),
  name: z.string().trim().max(60),
  muted: z.boolean(),
  microphone: shortText.nullable(),
  /** Level of the loudspeakers in the microphone as the sweep found it, dB; null where none was heard or tested. */
  echoDb: z.number().min(-200).max(40).nullable(),
  echoDelayMs: z.number().min(0).max(10_000).nullable(),
  /** Whether the headphones test was done. */
  tested: z.boolean(),
  echoCancellation: z.boolean(),
  /** What their network lets through; null while it is not known. */
  network: networkFoundSchema.nullable().default(null),
});
export type GuestStatus = z.infer<typeof guestStatus>;

/** What a guest's page may put into the message box: for the desk, and nobody else. */
export const fromGuestSchema = z.discriminatedUnion('type', [guestStatus, description, candidate]);
export type FromGuest = z.infer<typeof fromGuestSchema>;

/** What the desk may put into the message box, for one seat. */
export const fromDeskSchema = z.discriminatedUnion('type', [
  description,
  candidate,
  /** The desk is open: say how far you are. */
  z.strictObject({ type: z.literal('desk-here') }),
  /** The call is over, or this connection is: back to the waiting room. */
  z.strictObject({ type: z.literal('hung-up') }),
  z.strictObject({ type: z.literal('reload') }),
]);
export type FromDesk = z.infer<typeof fromDeskSchema>;

/** What the desk tells windows that only watch. */
export const forWatchersSchema = z.strictObject({
  type: z.literal('scene'),
  call: z.boolean(),
  recording: z.strictObject({ number: z.number().int(), seconds: z.number().min(0) }).nullable(),
  planVersion: z.number().int(),
  lines: z.record(z.string().max(40), z.strictObject({ state: z.string().max(20), sinceMs: z.number().min(0) })),
});
export type ForWatchers = z.infer<typeof forWatchersSchema>;

/** What a guest says over the line itself. */
export const overLineFromGuestSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('report'), report: directionReportSchema.nullable(), muted: z.boolean() }),
  z.strictObject({ type: z.literal('talk'), to: z.array(z.string().max(40)).max(24) }),
  checkReportSchema,
  answerSchema,
  hearMyselfSchema,
]);

/** What the server itself says. */
export type FromServer =
  | { type: 'window-opened'; seat: string; window: string }
  | { type: 'window-closed'; seat: string; window: string }
  /** Another window took this one's place. */
  | { type: 'ousted'; by: string }
  | { type: 'revoked' };

/** A message as its recipient gets it. */
export interface BoxMessage<Body = FromGuest | FromDesk | FromServer | ForWatchers> {
  id: number;
  sender: string;
  body: Body;
}

/** What a guest's page shows while connected, sent over the line itself. */
export interface GuestScene {
  type: 'scene';
  /** Whether they hear the show and are heard. */
  admitted: boolean;
  /** A take runs that holds this person's voice. */
  recording: boolean;
  /** A take runs, and their voice is on no track of it. */
  recordingOthers: boolean;
  /** The take their own browser records beside the line; null while none runs, or it is paused. */
  take: string | null;
  /** Everybody in the call by name, the guest included. */
  people: string[];
  /** Who talks privately to them; null for nobody. */
  talkingToYou: string | null;
  /** Bitrate wished for their voice, kbit/s. */
  voiceKbps: number;
  /** Whom a producer can talk to. */
  talkTargets: { seat: string; name: string }[];
}

/** Parties of an episode beside its seats. */
export const DESK = 'desk';
export const WATCHERS = 'watchers';
export const SERVER = 'server';
