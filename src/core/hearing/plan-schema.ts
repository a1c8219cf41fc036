import { z } from 'zod';
import type { ListenerId, SourceId } from './ids';
import { isOwnVoice } from './operands';
import {
  HEARING_RULES,
  HIGHEST_DB,
  LINE_KINDS,
  LOWEST_DB,
  listenersOf,
  REFLEXIVES,
  SEAT_ROLES,
  sourcesOf,
  type HearingPlan,
} from './plan';

const id = z.string().regex(/^[a-z0-9-]{1,40}$/, 'must be 1 to 40 small letters, digits or hyphens');
const name = z.string().trim().min(1).max(60);
const level = z.number().min(LOWEST_DB).max(HIGHEST_DB);
const sourceId = z.custom<SourceId>((value) => /^(voice|sounds):[a-z0-9-]{1,40}$/.test(String(value)), {
  error: 'must name a source, such as voice:maren or sounds:bed',
});
const listenerId = z.custom<ListenerId>(
  (value) => /^(program|(phones|return|feed):[a-z0-9-]{1,40})$/.test(String(value)),
  { error: 'must name a listener, such as program or return:odalys' },
);

/** A hearing plan as it crosses a boundary: the database, a request, a file. */
export const hearingPlanSchema: z.ZodType<HearingPlan> = z
  .strictObject({
    seats: z
      .array(
        z.strictObject({
          id,
          name,
          role: z.enum(SEAT_ROLES),
          line: z.enum(LINE_KINDS),
          reflexive: z.enum(REFLEXIVES),
        }),
      )
      .max(24),
    players: z.array(z.strictObject({ id, name })).max(8),
    feeds: z.array(z.strictObject({ id, name })).max(8),
    sources: z.partialRecord(sourceId, z.strictObject({ on: z.boolean(), trimDb: level })),
    listeners: z.partialRecord(
      listenerId,
      z.strictObject({ rule: z.enum(HEARING_RULES), levelDb: level }),
    ),
    exceptions: z.partialRecord(
      listenerId,
      z.partialRecord(sourceId, z.strictObject({ open: z.boolean(), gainDb: level })),
    ),
  })
  .superRefine((plan, context) => {
    const say = (path: (string | number)[], message: string) =>
      context.addIssue({ code: 'custom', path, message });
    const sources = sourcesOf(plan);
    const listeners = listenersOf(plan);
    for (const key of ['seats', 'players', 'feeds'] as const) {
      const ids = plan[key].map((entry) => entry.id);
      if (new Set(ids).size < ids.length) say([key], 'must not name the same id twice');
    }
    if (plan.seats.filter((seat) => seat.role === 'host').length !== 1) {
      say(['seats'], 'must hold exactly one host');
    }
    for (const key of Object.keys(plan.sources)) {
      if (!sources.some((source) => source.id === key)) say(['sources', key], 'is not in this plan');
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
      }
    }
  });
