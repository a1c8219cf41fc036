import { z } from '../zod';
import { MOST_FEEDS, MOST_GROUPS, MOST_INPUTS, MOST_PEOPLE_BEHIND_A_LINE, MOST_PLAYERS, MOST_SEATS, MOST_SHARES } from '../limits';
import { COUPLING_KINDS, type CouplingFrom, type CouplingTo } from './coupling';
import { earsOf, type ListenerId, type SourceId } from './ids';
import { isOwnVoice, isPrivateFrom } from './operands';
import { stripSchema } from '../strip/strip-schema';
import { MOST_OFFSET_MS } from './source-treatment';
import {
  HEARING_RULES,
  HIGHEST_DB,
  isSound,
  LINE_KINDS,
  LISTENER_KINDS,
  LOWEST_DB,
  listenersOf,
  REFLEXIVES,
  SEAT_ROLES,
  sourcesOf,
  type HearingPlan,
} from './plan';

const id = z.string().regex(/^[a-z0-9-]{1,40}$/, 'must be 1 to 40 small letters, digits or hyphens');
const name = z.string().trim().min(1).max(60);
/** Names of those who share a line; one alone is the seat’s own name. */
export const seatPeopleSchema = z.array(name).min(2).max(MOST_PEOPLE_BEHIND_A_LINE);
const level = z.number().min(LOWEST_DB).max(HIGHEST_DB);
const matching = <Id extends string>(pattern: RegExp, error: string) =>
  z.custom<Id>((value) => typeof value === 'string' && pattern.test(value), { error });
export const sourceId = matching<SourceId>(
  /^(voice|sounds|share|input|talkback):[a-z0-9-]{1,40}$/,
  'must name a source, such as voice:maren or sounds:bed',
);
export const listenerId = matching<ListenerId>(
  /^(program|(phones|return|feed):[a-z0-9-]{1,40})$/,
  'must name a listener, such as program or return:odalys',
);
const place = '(program|(voice|sounds|share|input|talkback|phones|return|feed|ears):[a-z0-9-]{1,40})';

const couplingSchema = z.strictObject({
  id: z.string().min(1).max(140),
  kind: z.enum(COUPLING_KINDS),
  from: matching<CouplingFrom>(new RegExp(`^${place}$`), 'must name a source, a listener or somebody’s ears'),
  to: matching<CouplingTo>(
    /^(voice|sounds|share|input|talkback|ears):[a-z0-9-]{1,40}$/,
    'must name a source or somebody’s ears, such as voice:tomasz or ears:tomasz',
  ),
  gainDb: z.number().min(-100).max(40),
  delayMs: z.number().min(0).max(10_000),
  measured: z.boolean().default(false),
  by: z.string().max(60).optional(),
  at: z.iso.datetime().optional(),
});

const sourceSettingsSchema = z.strictObject({
  on: z.boolean().default(true),
  trimDb: level.default(0),
  balance: z.number().min(-1).max(1).default(0),
  offIn: z.array(z.enum(LISTENER_KINDS)).max(LISTENER_KINDS.length).default([]),
  offsetMs: z.number().min(0).max(MOST_OFFSET_MS).default(0),
});

const duckingSchema = z.strictObject({
  on: z.boolean(),
  under: z.array(id).max(MOST_SEATS).nullable().default(null),
  thresholdDb: z.number().min(-80).max(0),
  depthDb: z.number().min(0).max(60),
  attackMs: z.number().min(10).max(5000),
  holdMs: z.number().min(0).max(10_000),
  releaseMs: z.number().min(10).max(10_000),
});

/** A hearing plan as it crosses a boundary: the database, a request, a file. */
export const hearingPlanSchema: z.ZodType<HearingPlan> = z
  .strictObject({
    seats: z
      .array(
        z.strictObject({
          id,
          name,
          role: z.enum(SEAT_ROLES),
          line: z.enum(LINE_KINDS).default('practice'),
          reflexive: z.enum(REFLEXIVES).default('themselves'),
          person: id.optional(),
          people: seatPeopleSchema.optional(),
        }),
      )
      .max(MOST_SEATS),
    players: z.array(z.strictObject({ id, name })).max(MOST_PLAYERS).default([]),
    feeds: z.array(z.strictObject({ id, name })).max(MOST_FEEDS).default([]),
    shares: z.array(z.strictObject({ id, name })).max(MOST_SHARES).default([]),
    inputs: z.array(z.strictObject({ id, name, stereo: z.boolean() })).max(MOST_INPUTS).default([]),
    groups: z.array(z.strictObject({ id, name, seats: z.array(id).min(1).max(MOST_SEATS) })).max(MOST_GROUPS).default([]),
    waiting: z.array(id).max(MOST_SEATS).default([]),
    sources: z.partialRecord(sourceId, sourceSettingsSchema).default({}),
    listeners: z
      .partialRecord(
        listenerId,
        z.strictObject({ rule: z.enum(HEARING_RULES).default('everyone-and-sounds'), levelDb: level.default(0), asTheyCome: z.boolean().default(false) }),
      )
      .default({}),
    exceptions: z
      .partialRecord(
        listenerId,
        z.partialRecord(sourceId, z.strictObject({ open: z.boolean(), gainDb: level.default(0) })),
      )
      .default({}),
    ducking: z.partialRecord(sourceId, duckingSchema).default({}),
    processing: z.partialRecord(sourceId, stripSchema).default({}),
    couplings: z.array(couplingSchema).max(200).default([]),
    accepted: z.record(z.string().max(200), z.string().max(500)).default({}),
  })
  .superRefine((plan, context) => {
    const say = (path: (string | number)[], message: string) =>
      context.addIssue({ code: 'custom', path, message });
    const sources = sourcesOf(plan);
    const listeners = listenersOf(plan);
    for (const key of ['seats', 'players', 'feeds', 'shares', 'inputs', 'groups'] as const) {
      const ids = plan[key].map((entry) => entry.id);
      if (new Set(ids).size < ids.length) say([key], 'must not name the same id twice');
    }
    if (plan.seats.filter((seat) => seat.role === 'host').length !== 1) {
      say(['seats'], 'must hold exactly one host');
    }
    for (const key of Object.keys(plan.sources)) {
      if (!sources.some((source) => source.id === key)) say(['sources', key], 'is not in this plan');
    }
    for (const key of Object.keys(plan.ducking)) {
      if (!sources.some((source) => source.id === key && isSound(source))) say(['ducking', key], 'is no sound of this plan');
    }
    for (const key of Object.keys(plan.processing)) {
      if (!sources.some(({ id, kind }) => id === key && kind !== 'talkback')) say(['processing', key], 'is no voice or sound of this plan');
    }
    for (const key of Object.keys(plan.listeners)) {
      if (!listeners.some((one) => one.id === key)) say(['listeners', key], 'is not in this plan');
    }
    for (const [listenerKey, row] of Object.entries(plan.exceptions)) {
      const listener = listeners.find((one) => one.id === listenerKey);
      for (const sourceKey of Object.keys(row ?? {})) {
        const path = ['exceptions', listenerKey, sourceKey];
        const source = sources.find((one) => one.id === sourceKey);
        if (!listener || !source) say(path, 'is not in this plan');
        else if (isOwnVoice(source, listener)) say(path, 'is a caller’s own voice in their own return');
        else if (isPrivateFrom(source, listener)) say(path, 'would let talkback out of the call');
      }
    }
    const places = new Set<string>([
      ...sources.map((source) => source.id),
      ...listeners.map((listener) => listener.id),
      ...plan.seats.map((seat) => earsOf(seat.id)),
    ]);
    plan.couplings.forEach((coupling, k) => {
      for (const end of ['from', 'to'] as const) {
        if (!places.has(coupling[end])) say(['couplings', k, end], 'is not in this plan');
      }
      if (coupling.from === coupling.to) say(['couplings', k], 'leads from a place to itself');
    });
    plan.groups.forEach(({ seats }, k) => {
      if (seats.some((seat) => !plan.seats.some((one) => one.id === seat))) say(['groups', k, 'seats'], 'names somebody who is not in this plan');
    });
    plan.waiting.forEach((seat, k) => {
      if (!plan.seats.some((one) => one.id === seat && one.role === 'caller')) say(['waiting', k], 'is no caller of this plan');
    });
  });
