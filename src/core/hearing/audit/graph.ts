import { dbToGain } from '../../dsp/decibels';
import { NOTHING_ON_AIR, type OnAir } from '../on-air';
import { declaredDelayMs, declaredGainDb } from '../../strip/declared';
import { heardAt, takenAsItComes } from '../compile';
import { stripOf } from '../processing';
import { personOf } from '../operands';
import type { Coupling } from '../coupling';
import { earsOf, nameInId, phonesOf, returnOf, voiceOf, type SeatId } from '../ids';
import { listenersOf, sourceSettings, sourcesOf, type HearingPlan, type Listener, type Source } from '../plan';

/** One step sound takes: through the plan, to the ears of whoever has a listener, or outside the desk. */
export interface Edge {
  to: number;
  /** Linear. */
  gain: number;
  delayMs: number;
  coupling: Coupling | null;
}

/** Sources, listeners and ears as numbered places, and every way sound takes between them. */
export interface SoundGraph {
  places: string[];
  edges: Edge[][];
  sources: Source[];
  listeners: Listener[];
  indexOf(id: string): number;
}

const mouthOf = (seat: SeatId): string => `mouth:${seat}`;

const TWO_LINES = 'two-lines/';
const twoLines = (first: SeatId, second: SeatId): string => `${TWO_LINES}${first}/${second}`;

/** The two seats of a person on two lines, first and second; null for any other coupling. */
export function seatsOfTwoLines(coupling: Coupling): [first: SeatId, second: SeatId] | null {
  const [first, second] = coupling.id.startsWith(TWO_LINES) ? coupling.id.slice(TWO_LINES.length).split('/') : [];
  return first && second ? [first, second] : null;
}

/** Where a source's sound begins: the mouth of a voice, the source itself otherwise. */
export function originOf(graph: SoundGraph, source: Source): number {
  return graph.indexOf(source.kind === 'voice' ? mouthOf(source.seat.id) : source.id);
}

/** A person on two lines speaks into both: one voice arrives twice, a little apart. */
function sharedMouths(plan: HearingPlan): Coupling[] {
  return plan.seats.flatMap((seat, place) =>
    plan.seats
      .filter((other) => other.id !== seat.id && personOf(other) === personOf(seat))
      .map((other): Coupling => ({
        // One id for both directions: it is one mistake.
        id: plan.seats.indexOf(other) > place ? twoLines(seat.id, other.id) : twoLines(other.id, seat.id),
        kind: 'same-room',
        from: voiceOf(seat.id),
        to: voiceOf(other.id),
        gainDb: 0,
        delayMs: 20,
        measured: false,
      })),
  );
}

/** The graph of a plan together with everything that happens outside the desk. */
export function soundGraph(plan: HearingPlan, onAir: OnAir = NOTHING_ON_AIR, more: readonly Coupling[] = []): SoundGraph {
  const sources = sourcesOf(plan);
  const listeners = listenersOf(plan);
  const places: string[] = [
    ...sources.map(({ id }) => id),
    ...listeners.map(({ id }) => id),
    ...plan.seats.map(({ id }) => earsOf(id)),
    // A mouth is not a microphone: what another microphone picks up is the voice, not the line.
    ...plan.seats.map(({ id }) => mouthOf(id)),
  ];
  const numbers = new Map(places.map((id, k) => [id, k]));
  const indexOf = (id: string): number => numbers.get(id) ?? -1;
  const edges: Edge[][] = places.map(() => []);
  for (const source of sources) {
    const strip = stripOf(plan, source.id);
    // The most it raises anything, so that a margin holds whatever is said.
    const [raisedDb, stripMs] = [declaredGainDb(strip), declaredDelayMs(strip)];
    const { offsetMs } = sourceSettings(plan, source.id);
    for (const listener of listeners) {
      const db = heardAt(plan, onAir, source, listener, listeners);
      if (db === null) continue;
      const plain = takenAsItComes(plan, onAir, source, listener);
      edges[indexOf(source.id)].push({ to: indexOf(listener.id), gain: dbToGain(plain ? db : db + raisedDb), delayMs: plain ? 0 : offsetMs + stripMs, coupling: null });
    }
  }
  for (const { id } of plan.seats) {
    for (const own of [phonesOf(id), returnOf(id)]) {
      if (indexOf(own) >= 0) edges[indexOf(own)].push({ to: indexOf(earsOf(id)), gain: 1, delayMs: 0, coupling: null });
    }
  }
  for (const { id } of plan.seats) {
    if (indexOf(voiceOf(id)) >= 0) edges[indexOf(mouthOf(id))].push({ to: indexOf(voiceOf(id)), gain: 1, delayMs: 0, coupling: null });
  }
  for (const coupling of [...plan.couplings, ...more, ...sharedMouths(plan)]) {
    const from = indexOf(coupling.from.startsWith('voice:') ? mouthOf(nameInId(coupling.from)) : coupling.from);
    const to = indexOf(coupling.to);
    if (from < 0 || to < 0) continue;
    edges[from].push({ to, gain: dbToGain(coupling.gainDb), delayMs: coupling.delayMs, coupling });
  }
  return { places, edges, sources, listeners, indexOf };
}
