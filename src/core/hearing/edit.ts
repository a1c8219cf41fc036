import { duckingOf, type Ducking } from './ducking';
import type { ListenerId, SourceId } from './ids';
import { listenerName } from './names';
import { isPrivateFrom, operandFor } from './operands';
import {
  HIGHEST_DB,
  LOWEST_DB,
  listenerSettings,
  listenersOf,
  sourceSettings,
  sourcesOf,
  type Crosspoint,
  type HearingPlan,
  type ListenerSettings,
  type SourceSettings,
} from './plan';
import type { StripSettings } from '../strip/settings';
import { stripOf } from './processing';
import { MOST_OFFSET_MS } from './source-treatment';

/** Somebody asked for a caller's own voice in that caller's return. There is no such crosspoint. */
export class OwnVoiceError extends TypeError {
  readonly code = 'own-voice';
  constructor(name: string) {
    super(`${name}'s own voice has no crosspoint into ${name}'s return.`);
  }
}

/**
 * The plan with one crosspoint changed by hand.
 * @throws {RangeError} for an id the plan does not have or a level outside −60 to +12 dB
 * @throws {OwnVoiceError} for a caller's voice in their own return
 */
export function setCrosspoint(
  plan: HearingPlan,
  source: SourceId,
  listener: ListenerId,
  crosspoint: Crosspoint,
): HearingPlan {
  checkLevel('crosspoint.gainDb', crosspoint.gainDb);
  requireOperand(plan, source, listener);
  const row = { ...plan.exceptions[listener], [source]: { ...crosspoint } };
  return { ...plan, exceptions: { ...plan.exceptions, [listener]: row } };
}

/** The plan with a source's trim or on/off changed. @throws {RangeError} for a level out of range */
export function setSource(
  plan: HearingPlan,
  source: SourceId,
  change: Partial<SourceSettings>,
): HearingPlan {
  const settings = { ...sourceSettings(plan, source), ...change };
  checkLevel('trimDb', settings.trimDb);
  if (!(settings.offsetMs >= 0 && settings.offsetMs <= MOST_OFFSET_MS)) throw new RangeError(`offsetMs must be from 0 to ${MOST_OFFSET_MS}, received ${settings.offsetMs}.`);
  return { ...plan, sources: { ...plan.sources, [source]: settings } };
}

/** The plan with how a source goes under the voices changed. */
export function setDucking(plan: HearingPlan, source: SourceId, change: Partial<Ducking>): HearingPlan {
  return { ...plan, ducking: { ...plan.ducking, [source]: { ...duckingOf(plan, source), ...change } } };
}

/** The plan with the strip of a source changed. */
export function setStrip(plan: HearingPlan, source: SourceId, change: (strip: StripSettings) => StripSettings): HearingPlan {
  return { ...plan, processing: { ...plan.processing, [source]: change(stripOf(plan, source)) } };
}

/** The plan with a listener's rule or level changed. @throws {RangeError} for a level out of range */
export function setListener(
  plan: HearingPlan,
  listener: ListenerId,
  change: Partial<ListenerSettings>,
): HearingPlan {
  const settings = { ...listenerSettings(plan, listener), ...change };
  checkLevel('levelDb', settings.levelDb);
  return { ...plan, listeners: { ...plan.listeners, [listener]: settings } };
}

function requireOperand(plan: HearingPlan, sourceId: SourceId, listenerId: ListenerId): void {
  const source = sourcesOf(plan).find(({ id }) => id === sourceId);
  const listener = listenersOf(plan).find(({ id }) => id === listenerId);
  if (!source) throw new RangeError(`The plan has no source ${sourceId}.`);
  if (!listener) throw new RangeError(`The plan has no listener ${listenerId}.`);
  if (isPrivateFrom(source, listener)) throw new RangeError(`${source.name} stays out of ${listenerName(listener)}.`);
  if (!operandFor(source, listener)) throw new OwnVoiceError(source.name);
}

function checkLevel(field: string, db: number): void {
  if (!(db >= LOWEST_DB && db <= HIGHEST_DB)) {
    throw new RangeError(`${field} must be from ${LOWEST_DB} to +${HIGHEST_DB} dB, received ${db}.`);
  }
}
