import { CLOSED_STRIP, withInsert, type StripSettings } from '../strip/settings';
import type { HearingPlan } from './plan';
import { hearingPlanSchema } from './plan-schema';

/** The form in which plans are written now. A change to what a plan holds makes the next one, and a step to it below. */
export const PLAN_FORMAT = 8;

/** A plan was written by a newer version of the product. */
export class PlanFormatError extends Error {
  readonly code = 'plan-format';
}

type Body = Record<string, unknown>;

/** What makes a plan of each form one of the next. What was written before forms had numbers is of the first that fits. */
const STEPS: Record<number, (body: Body) => Body> = {
  // Waiting, shares, couplings and what the host accepted.
  1: (body) => ({ shares: [], waiting: [], couplings: [], accepted: {}, ...body }),
  // Groups to talk to.
  2: (body) => ({ groups: [], ...body }),
  // What goes under the voices.
  3: (body) => ({ ducking: {}, ...body }),
  // What is done to voices.
  4: (body) => ({ processing: {}, ...body }),
  // What measured a coupling, and when; who is one person on two lines. Absent where nobody said so.
  5: (body) => body,
  // What comes in through devices, and the people of one line; offsets are absent where there are none.
  6: (body) => ({ inputs: [], ...body }),
  // Strips, in place of a low cut and a leveller that could be on or off.
  7: (body) => ({ ...body, processing: mapValues(body.processing, asStrip) }),
};

const mapValues = (record: unknown, change: (value: Body) => unknown): Body =>
  Object.fromEntries(Object.entries((record ?? {}) as Record<string, Body>).map(([key, value]) => [key, change(value)]));

/** What a low cut and a leveller of old do as a strip: the same. */
const asStrip = ({ lowCut, evenOut }: Body): StripSettings =>
  withInsert(withInsert(CLOSED_STRIP, 'lowCut', { on: lowCut === true }), 'compressor', { on: evenOut === true });

/** A plan as it is written down. */
export const planText = (plan: HearingPlan): string => JSON.stringify({ format: PLAN_FORMAT, ...plan });

/**
 * A plan as it was written down by this version or any earlier one.
 * @throws {PlanFormatError} for one of a newer version
 * @throws {ZodError} for what is no plan
 */
export function readStoredPlan(stored: unknown): HearingPlan {
  const { format = 1, ...body } = (typeof stored === 'object' && stored !== null ? stored : {}) as Body;
  if (typeof format !== 'number' || format > PLAN_FORMAT) {
    throw new PlanFormatError(`This plan was written by a newer version of the product (form ${String(format)}; this one reads up to ${PLAN_FORMAT}). Update it, or start from another plan.`);
  }
  let read: Body = body;
  for (let form = format; form < PLAN_FORMAT; form++) read = STEPS[form](read);
  return hearingPlanSchema.parse(read);
}
