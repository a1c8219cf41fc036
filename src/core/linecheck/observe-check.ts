import type { CouplingFrom, CouplingKind, CouplingTo } from '../hearing/coupling';
import { earsOf, nameInId } from '../hearing/ids';
import { SENT_BACK_DB } from '../echo/echo-kind';
import { asPlanned, observeCoupling, type Measure, type Observation, type ObservedCoupling } from '../hearing/observation';
import { listenersOf, sourcesOf, type HearingPlan } from '../hearing/plan';
import type { LineCheck, WayBack } from './line-check';

/** Which of the ways sound takes outside the desk a measured one is. */
function wayOf(plan: HearingPlan, { from, to, gainDb }: WayBack): { kind: CouplingKind; from: CouplingFrom; to: CouplingTo } {
  if (to.startsWith('share:')) return { kind: 'share-contains', from, to };
  const seat = nameInId(to);
  const own = to.startsWith('voice:') && (from === `return:${seat}` || from === `phones:${seat}`);
  if (!own) return { kind: 'output-into-input', from, to };
  const isHost = plan.seats.some(({ id, role }) => id === seat && role === 'host');
  return gainDb > SENT_BACK_DB && !isHost ? { kind: 'far-system', from, to } : { kind: 'loudspeakers', from: earsOf(seat), to };
}

/** Ways back as the audit knows them. */
export const observedWays = (plan: HearingPlan, ways: readonly WayBack[], at: Date, by: Measure = 'the line check'): ObservedCoupling[] =>
  ways.map((way) => observeCoupling({ ...wayOf(plan, way), gainDb: way.gainDb, delayMs: way.delayMs }, by, at));

/** Longer ago than this somebody has sat down elsewhere: shown with its age, and no longer counted. */
const HOLDS_MS = 4 * 3600_000;
export const stillHolds = ({ at }: Pick<LineCheck, 'at'>, nowMs: number): boolean => nowMs - Date.parse(at) < HOLDS_MS;

/** What a line check tells the audit: ways back, mixes that arrive elsewhere, what is not as planned, and what is silent. */
export function observationsOf(plan: HearingPlan, check: LineCheck): Observation[] {
  const at = new Date(check.at);
  const by = 'the line check';
  const silent = check.farEnds.filter(({ answered, lineDb }) => answered && lineDb === null).map(({ listener }) => listener);
  const known = new Set(plan.seats.map(({ id }) => id));
  // Somebody may have left since.
  const there = new Set<string>([...sourcesOf(plan), ...listenersOf(plan)].map(({ id }) => id));
  return [
    ...observedWays(plan, check.waysBack, at),
    ...check.otherMixes
      .filter(({ at: end }) => known.has(nameInId(end)))
      .map(({ from, at: end, gainDb }) => observeCoupling({ kind: 'other-return', from, to: earsOf(nameInId(end)), gainDb, delayMs: 0 }, by, at)),
    ...check.crosspoints.filter(({ source, listener }) => there.has(source) && there.has(listener)).flatMap(({ source, listener, plannedDb, engineDb, farDb }): Observation[] => {
      const one = (where: 'engine' | 'far-end', measuredDb: number | null): Observation => ({ of: 'crosspoint', by, at: check.at, source, listener, where, plannedDb, measuredDb });
      if (!asPlanned({ plannedDb, measuredDb: engineDb })) return [one('engine', engineDb)];
      // What the engine does not send cannot arrive, and a line that carries nothing is said once.
      return farDb === undefined || silent.includes(listener) || asPlanned({ plannedDb, measuredDb: farDb }) ? [] : [one('far-end', farDb)];
    }),
    ...silent.map((place): Observation => ({ of: 'silence', by, at: check.at, place })),
    ...check.inputs.filter(({ digitalSilence }) => digitalSilence).map(({ source: place }): Observation => ({ of: 'silence', by, at: check.at, place })),
  ];
}

/** In a few words: how many places are as planned, and within what. */
export function checkInWords({ crosspoints, waysBack }: Pick<LineCheck, 'crosspoints' | 'waysBack'>): string {
  const places = crosspoints.flatMap(({ plannedDb, engineDb, farDb }) => [{ plannedDb, measuredDb: farDb === undefined ? engineDb : farDb }]);
  const good = places.filter(asPlanned);
  const within = Math.max(0, ...good.map(({ plannedDb, measuredDb }) => (plannedDb === null || measuredDb === null ? 0 : Math.abs(plannedDb - measuredDb))));
  const count = good.length === places.length ? `All ${places.length} places` : `${good.length} of ${places.length} places`;
  const ways = waysBack.length === 0 ? 'nothing comes back' : waysBack.length === 1 ? 'one way back' : `${waysBack.length} ways back`;
  return `${count} as planned, within ${within.toFixed(1)} dB; ${ways}.`;
}

