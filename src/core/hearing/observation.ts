import { declareCoupling, type Coupling, type CouplingFrom, type CouplingKind, type CouplingTo } from './coupling';
import type { ListenerId, SourceId } from './ids';

/** What measured it. */
export type Measure = 'the loop guard' | 'the line check' | 'the headphones test' | 'the proof of the line' | 'the echo watch';

interface Observed {
  by: Measure;
  /** ISO 8601. */
  at: string;
}

/** A way sound takes outside the desk, as it was measured. */
export interface ObservedCoupling extends Observed {
  of: 'coupling';
  coupling: Coupling;
}

/** A source in a listener's mix, as it was measured where the mix is made or where it arrives. */
export interface ObservedCrosspoint extends Observed {
  of: 'crosspoint';
  source: SourceId;
  listener: ListenerId;
  where: 'engine' | 'far-end';
  /** dB; null for nothing. */
  plannedDb: number | null;
  measuredDb: number | null;
}

/** Nothing at all arrives at a listener's end, or by a source: not even noise. */
export interface ObservedSilence extends Observed {
  of: 'silence';
  place: ListenerId | SourceId;
}

/**
 * Something measured about the world, with how and when. Observations stand beside the plan: they age, they are never stored
 * with its versions or merged with another window's, and the host may keep one as a note.
 */
export type Observation = ObservedCoupling | ObservedCrosspoint | ObservedSilence;

/** Further apart than this, planned and measured are not the same, dB. */
export const CROSSPOINT_TOLERANCE_DB = 1.5;

export function observeCoupling(
  { kind, from, to, gainDb, delayMs }: { kind: CouplingKind; from: CouplingFrom; to: CouplingTo; gainDb: number; delayMs: number },
  by: Measure,
  at: Date,
): ObservedCoupling {
  const when = at.toISOString();
  const measured = { gainDb: Math.round(gainDb * 10) / 10, delayMs: Math.max(0, Math.round(delayMs)), measured: true, by, at: when };
  return { of: 'coupling', by, at: when, coupling: { ...declareCoupling(kind, from, to), ...measured } };
}

/** What tells one observation from another: a newer one of the same takes its place. */
export function observationKey(observation: Observation): string {
  switch (observation.of) {
    case 'coupling':
      return observation.coupling.id;
    case 'crosspoint':
      return `${observation.where}/${observation.source}/${observation.listener}`;
    case 'silence':
      return `silence/${observation.place}`;
  }
}

/** The observations with newer ones in the place of older. */
export function observeAlso(known: readonly Observation[], newer: readonly Observation[]): Observation[] {
  const keys = new Set(newer.map(observationKey));
  return [...known.filter((one) => !keys.has(observationKey(one))), ...newer];
}

/** Ways outside the desk: what was noted, and what was measured in the place of a note on the same way. */
export function withObserved(noted: readonly Coupling[], observations: readonly Observation[]): Coupling[] {
  const observed = observations.flatMap((one) => (one.of === 'coupling' ? [one.coupling] : []));
  return [...noted.filter(({ id }) => !observed.some((one) => one.id === id)), ...observed];
}

/** What is not as it should be: crosspoints that are not what the plan says, and lines that carry nothing. */
export const amiss = (observations: readonly Observation[]): (ObservedCrosspoint | ObservedSilence)[] =>
  observations.filter((one): one is ObservedCrosspoint | ObservedSilence => one.of === 'silence' || (one.of === 'crosspoint' && !asPlanned(one)));

export function asPlanned({ plannedDb, measuredDb }: Pick<ObservedCrosspoint, 'plannedDb' | 'measuredDb'>): boolean {
  if (plannedDb === null || measuredDb === null) return plannedDb === measuredDb;
  return Math.abs(plannedDb - measuredDb) <= CROSSPOINT_TOLERANCE_DB;
}
