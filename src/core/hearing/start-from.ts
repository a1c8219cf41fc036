import { forAnybody } from './ducking';
import { hearingPlanSchema } from './plan-schema';
import { listenersOf, sourcesOf, type HearingPlan } from './plan';
import { operandFor } from './operands';

/**
 * An episode's plan begun from a kept one: the people, players and shares stay the episode's own;
 * rules, levels, exceptions and feeds are taken over wherever their places exist here too.
 */
export function startFrom(episode: HearingPlan, kept: HearingPlan): HearingPlan {
  const base: HearingPlan = { ...episode, feeds: kept.feeds, inputs: kept.inputs, sources: {}, listeners: {}, exceptions: {}, ducking: {}, processing: {} };
  const sources = sourcesOf(base);
  const listeners = listenersOf(base);
  for (const { id } of sources) {
    if (kept.sources[id]) base.sources[id] = kept.sources[id];
    if (kept.processing[id]) base.processing[id] = kept.processing[id];
    const ducking = forAnybody(kept.ducking)[id];
    if (ducking) base.ducking[id] = ducking;
  }
  for (const listener of listeners) {
    if (kept.listeners[listener.id]) base.listeners[listener.id] = kept.listeners[listener.id];
    const row = kept.exceptions[listener.id] ?? {};
    const taken = sources.filter((source) => row[source.id] && operandFor(source, listener));
    if (taken.length > 0) base.exceptions[listener.id] = Object.fromEntries(taken.map(({ id }) => [id, row[id]]));
  }
  return hearingPlanSchema.parse(base);
}
