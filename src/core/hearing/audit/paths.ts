import { gainToDb } from '../../dsp/decibels';
import type { Coupling } from '../coupling';
import type { Edge, SoundGraph } from './graph';

/** A way sound takes, place by place. */
export interface SoundPath {
  places: string[];
  gainDb: number;
  delayMs: number;
  couplings: Coupling[];
}

/** Paths are followed for this many steps: several times through the desk and out of it. */
const MOST_STEPS = 14;

/** One arrival: at a place, with or without a coupling behind it, after a number of steps. */
interface Arrival {
  place: number;
  crossed: boolean;
  gain: number;
  before: Arrival | null;
  edge: Edge | null;
}

/**
 * The strongest path from one place to each other place (and back to itself) that crosses at least
 * `leastCouplings` and stays above a level. Step by step, only arrivals louder than every earlier one
 * at the same place go on (Bellman–Ford on products), so that many weak loops cost nothing.
 */
export function strongestPaths(
  graph: SoundGraph,
  from: number,
  boundDb: number,
  leastCouplings: 0 | 1 = 1,
): Map<number, SoundPath> {
  const bound = 10 ** (boundDb / 20);
  const best = new Map<number, Arrival>();
  let front: Arrival[] = [{ place: from, crossed: false, gain: 1, before: null, edge: null }];
  for (let step = 0; step < MOST_STEPS && front.length > 0; step++) {
    const next = new Map<number, Arrival>();
    for (const arrival of front) {
      for (const edge of graph.edges[arrival.place]) {
        const gain = arrival.gain * edge.gain;
        if (gain < bound) continue;
        const crossed = arrival.crossed || edge.coupling !== null;
        const state = 2 * edge.to + (crossed ? 1 : 0);
        if (gain <= (best.get(state)?.gain ?? 0) || gain <= (next.get(state)?.gain ?? 0)) continue;
        next.set(state, { place: edge.to, crossed, gain, before: arrival, edge });
      }
    }
    for (const [state, arrival] of next) best.set(state, arrival);
    front = [...next.values()];
  }
  const found = new Map<number, SoundPath>();
  if (leastCouplings === 0) found.set(from, { places: [graph.places[from]], gainDb: 0, delayMs: 0, couplings: [] });
  for (const arrival of best.values()) {
    if (!arrival.crossed && leastCouplings === 1) continue;
    const known = found.get(arrival.place);
    if (!known || known.gainDb < gainToDb(arrival.gain)) found.set(arrival.place, pathOf(graph, arrival));
  }
  return found;
}

function pathOf(graph: SoundGraph, last: Arrival): SoundPath {
  const places: string[] = [];
  const couplings: Coupling[] = [];
  let delayMs = 0;
  for (let arrival: Arrival | null = last; arrival !== null; arrival = arrival.before) {
    places.unshift(graph.places[arrival.place]);
    delayMs += arrival.edge?.delayMs ?? 0;
    if (arrival.edge?.coupling) couplings.unshift(arrival.edge.coupling);
  }
  return {
    places: places.filter((id) => !id.startsWith('mouth:')),
    gainDb: gainToDb(last.gain),
    delayMs,
    couplings,
  };
}
