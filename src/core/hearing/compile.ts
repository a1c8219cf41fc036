import { dbToGain } from '../dsp/decibels';
import type { ListenerId, SourceId } from './ids';
import { crosspointOf, operandFor } from './operands';
import {
  listenerSettings,
  listenersOf,
  sourceSettings,
  sourcesOf,
  type HearingPlan,
  type Listener,
} from './plan';

/**
 * A plan as flat arrays, ready for the engine and for a message between threads. Listener `m` has
 * the operands `first[m]` to `first[m + 1]`; each names a source by its place in `sourceIds`.
 * Closed crosspoints are left out.
 */
export interface CompiledPlan {
  sourceIds: SourceId[];
  listenerIds: ListenerId[];
  first: Uint16Array;
  source: Uint16Array;
  /** Linear gain of each operand: source trim × crosspoint × listener level. */
  gain: Float32Array;
}

export interface CompileOptions {
  /** The listener whose mix the host's phones carry in place of their own. */
  hearAs?: ListenerId | null;
}

/** Compiles a plan. The order of sources and listeners is that of the plan. */
export function compilePlan(plan: HearingPlan, options: CompileOptions = {}): CompiledPlan {
  const sources = sourcesOf(plan);
  const listeners = listenersOf(plan);
  const first = new Uint16Array(listeners.length + 1);
  const source: number[] = [];
  const gain: number[] = [];
  listeners.forEach((listener, place) => {
    const mix = mixHeardBy(listener, listeners, options.hearAs ?? null);
    const levelDb = listenerSettings(plan, listener.id).levelDb;
    sources.forEach((candidate, slot) => {
      const operand = operandFor(candidate, mix);
      const settings = sourceSettings(plan, candidate.id);
      if (!operand || !settings.on) return;
      const crosspoint = crosspointOf(plan, operand);
      if (!crosspoint.open) return;
      source.push(slot);
      gain.push(dbToGain(settings.trimDb + crosspoint.gainDb + levelDb));
    });
    first[place + 1] = source.length;
  });
  return {
    sourceIds: sources.map(({ id }) => id),
    listenerIds: listeners.map(({ id }) => id),
    first,
    source: Uint16Array.from(source),
    gain: Float32Array.from(gain),
  };
}

/** Whose operands a listener plays: its own, unless the phones are borrowing another's. */
function mixHeardBy(listener: Listener, all: Listener[], hearAs: ListenerId | null): Listener {
  if (listener.kind !== 'phones' || hearAs === null) return listener;
  return all.find(({ id }) => id === hearAs) ?? listener;
}

/** Linear gain of one crosspoint in a compiled plan; 0 where it is closed or does not exist. */
export function compiledGain(compiled: CompiledPlan, source: SourceId, listener: ListenerId): number {
  const place = compiled.listenerIds.indexOf(listener);
  const slot = compiled.sourceIds.indexOf(source);
  for (let i = compiled.first[place]; i < compiled.first[place + 1]; i++) {
    if (compiled.source[i] === slot) return compiled.gain[i];
  }
  return 0;
}
