import { dbInWords, placeName } from '../names';
import type { ObservedCrosspoint, ObservedSilence } from '../observation';
import type { HearingPlan } from '../plan';
import type { Finding, Fix } from './finding';

/** What was measured to be otherwise than planned, in words. */
export function measuredFinding(plan: HearingPlan, observed: ObservedCrosspoint | ObservedSilence): Finding {
  return observed.of === 'silence' ? silenceFinding(plan, observed) : crosspointFinding(plan, observed);
}

function silenceFinding(plan: HearingPlan, { place }: ObservedSilence): Finding {
  const owner = plan.seats.find(({ id }) => place === `return:${id}` || place === `voice:${id}`)?.name ?? placeName(plan, place);
  const sentence = place.startsWith('voice:') || place.startsWith('input:')
    ? `Nothing comes from ${owner}, not even the noise of a room: the microphone is off, muted in another program, or not plugged in.`
    : `Nothing arrives at ${owner}’s end of the line. Ask ${owner} to load the page again, or look which device is chosen there.`;
  return { key: `silence/${place}`, kind: 'crosspoint', mistake: 'not-as-planned', urgent: true, sentence, path: [place], gainDb: null, delayMs: null, fixes: [] };
}

function crosspointFinding(plan: HearingPlan, observed: ObservedCrosspoint): Finding {
  const { source, listener, where, plannedDb, measuredDb } = observed;
  const who = placeName(plan, source);
  const place = placeName(plan, listener);
  const owner = plan.seats.find(({ id }) => listener === `return:${id}`)?.name;
  return {
    key: `crosspoint/${where}/${source}/${listener}`,
    kind: 'crosspoint',
    mistake: 'not-as-planned',
    urgent: true,
    sentence: where === 'engine' || !owner ? inEngine(who, place, plannedDb, measuredDb) : atFarEnd(who, owner, plannedDb, measuredDb),
    path: [source, listener],
    gainDb: measuredDb,
    delayMs: null,
    fixes: where === 'engine' ? [PUT_AGAIN] : [],
  };
}

const PUT_AGAIN: Fix = { label: 'Put the plan into force again', effect: 'Every crosspoint goes to what the grid shows.', changes: [], enforce: true };

function inEngine(who: string, place: string, plannedDb: number | null, measuredDb: number | null): string {
  if (measuredDb === null) return `${who} is missing in ${place}: planned ${dbInWords(plannedDb!)}, nothing measured.`;
  if (plannedDb === null) return `${who} is in ${place} at ${dbInWords(measuredDb)} and should not be.`;
  return `${who} is in ${place} at ${dbInWords(measuredDb)}; planned are ${dbInWords(plannedDb)}.`;
}

function atFarEnd(who: string, owner: string, plannedDb: number | null, measuredDb: number | null): string {
  if (measuredDb === null) return `${owner} does not get ${who}: planned ${dbInWords(plannedDb!)}, nothing arrives at ${owner}’s end.`;
  if (plannedDb === null) return `${owner} gets ${who} at ${dbInWords(measuredDb)}, which the plan keeps out.`;
  return `${owner} gets ${who} at ${dbInWords(measuredDb)}; planned are ${dbInWords(plannedDb)}.`;
}
