import type { CompiledPlan } from '../hearing/compile';
import type { LineCheck } from './line-check';
import { plannedAt } from './setup';

/** Levels closer together than this are the same, dB. */
const SAME_DB = 0.1;

/** What is other now than when a check was made. */
export interface ChangedSince {
  /** Places that are planned otherwise. */
  places: number;
  /** Sources and listeners that were not there. */
  newcomers: string[];
}

/** @param compiled the plan in force, with the hands over it */
export function changedSince(check: Pick<LineCheck, 'crosspoints'>, compiled: CompiledPlan, known: readonly string[]): ChangedSince {
  const checked = new Set(check.crosspoints.flatMap(({ source, listener }) => [source as string, listener]));
  const places = check.crosspoints.filter(({ source, listener, plannedDb }) => {
    const [n, m] = [compiled.sourceIds.indexOf(source), compiled.listenerIds.indexOf(listener)];
    if (n < 0 || m < 0) return false;
    const now = plannedAt(compiled, m, n);
    return now === null || plannedDb === null ? now !== plannedDb : Math.abs(now - plannedDb) > SAME_DB;
  });
  return { places: places.length, newcomers: known.filter((id) => !checked.has(id)) };
}
