import { gainToDb } from '../dsp/decibels';
import { CUE, type ListenerId, type SourceId } from '../hearing/ids';
import type { CompiledPlan } from '../hearing/compile';
import type { Probe } from '../engine/probes';
import { makeCodes, probeOf, type Codes } from './codes';
import { LOUDEST_DB, PROBE_DB } from './schedule';

/** Everything a line check sends and what should arrive, as it can be told to a guest's page. */
export interface CheckSetup {
  seed: number;
  /** Sources that become a probe, in the order of their codes. */
  sources: SourceId[];
  /** Listeners that are given a probe, in the order of theirs. */
  listeners: ListenerId[];
  /** By listener and source, dB; null where the plan opens nothing. */
  plannedDb: (number | null)[][];
  /** Level of the sources' probes, dBFS. */
  sourcesDb: number;
}

/** Turned down so far, a source is not in a mix, dB. */
const INAUDIBLE_DB = -75;

/** The mean of both sides: a probe is measured where both are put together. */
export function plannedAt(compiled: CompiledPlan, listener: number, source: number): number | null {
  for (let k = compiled.first[listener]; k < compiled.first[listener + 1]; k++) {
    if (compiled.source[k] !== source) continue;
    const db = gainToDb((compiled.gainLeft[k] + compiled.gainRight[k]) / 2);
    return db > INAUDIBLE_DB ? db : null;
  }
  return null;
}

/**
 * A check of a plan as it is compiled, with the hands over it.
 * @param listeners those that are checked; all others are left alone
 */
export function checkSetup(compiled: CompiledPlan, sources: readonly SourceId[], listeners: readonly ListenerId[], seed: number): CheckSetup {
  const plannedDb = listeners.map((listener) => sources.map((source) => plannedAt(compiled, compiled.listenerIds.indexOf(listener), compiled.sourceIds.indexOf(source))));
  // Whoever hears most of them hears the sum of their powers.
  const most = Math.max(1, ...plannedDb.map((row) => row.reduce<number>((sum, db) => sum + (db === null ? 0 : 10 ** (db / 10)), 0)));
  return { seed, sources: [...sources], listeners: [...listeners], plannedDb, sourcesDb: Math.min(PROBE_DB, LOUDEST_DB - 10 * Math.log10(most)) };
}

const SEED_OF_LISTENERS = 7919;

/** Codes take a second to make, and every part of one check needs the same. */
const made = new Map<string, Codes>();
const MOST_KEPT = 4;

function codesFor(count: number, seed: number): Codes {
  const key = `${count}/${seed}`;
  const codes = made.get(key) ?? makeCodes(count, seed);
  made.delete(key);
  made.set(key, codes);
  for (const oldest of made.keys()) if (made.size > MOST_KEPT) made.delete(oldest);
  return codes;
}

export const sourceCodes = (count: number, seed: number): Codes => codesFor(count, seed);
export const listenerCodes = (count: number, seed: number): Codes => codesFor(count, seed + SEED_OF_LISTENERS);

/** Every source of the engine silent, so that nothing but probes is heard anywhere. */
const silence = (compiled: CompiledPlan): Probe[] => compiled.sourceIds.map((_, slot) => ({ of: 'source', slot, period: null }));

/** The probes of the first stage: each source is one. */
export function probesForSources(setup: CheckSetup, compiled: CompiledPlan): Probe[] {
  const { codes } = sourceCodes(setup.sources.length, setup.seed);
  const probes = new Map(setup.sources.map((source, k) => [compiled.sourceIds.indexOf(source), probeOf(codes[k], setup.sourcesDb)]));
  return compiled.sourceIds.map((id, slot) => ({ of: 'source', slot, period: id === CUE ? null : (probes.get(slot) ?? null) }));
}

/** The probes of the later stages: each listener is given one, but those that are left out. */
export function probesForListeners(setup: CheckSetup, compiled: CompiledPlan, leftOut: ReadonlySet<ListenerId> = new Set()): Probe[] {
  const { codes } = listenerCodes(setup.listeners.length, setup.seed);
  const sent = setup.listeners.flatMap((listener, k): Probe[] => {
    const slot = compiled.listenerIds.indexOf(listener);
    return leftOut.has(listener) || slot < 0 ? [] : [{ of: 'listener', slot, period: probeOf(codes[k], PROBE_DB) }];
  });
  return [...silence(compiled), ...sent];
}
