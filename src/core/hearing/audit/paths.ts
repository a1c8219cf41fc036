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

/** The strongest paths from one place, each put into words only when it is asked for. */
export interface Paths {
  /** To a place; undefined where none is loud enough. */
  get(place: number): SoundPath | undefined;
}

/** Paths are followed for this many steps: several times through the desk and out of it. */
const MOST_STEPS = 14;

/**
 * The strongest path from one place to each other place (and back to itself) that crosses at least
 * `leastCouplings` and stays above a level. Step by step, only arrivals louder than every earlier one
 * at the same place go on (Bellman–Ford on products), so that many weak loops cost nothing.
 */
export function strongestPaths(graph: SoundGraph, from: number, boundDb: number, leastCouplings: 0 | 1 = 1): Paths {
  const bound = 10 ** (boundDb / 20);
  // A state is a place, with or without a coupling behind it. Arrivals lie one after another, each with the one before it.
  const states = 2 * graph.places.length;
  const best = new Float64Array(states);
  const newest = new Int32Array(states).fill(-1);
  const bestArrival = new Int32Array(states).fill(-1);
  /** When a state was first reached: of two that are as loud the earlier counts. */
  const reached = new Int32Array(states);
  const [state, gain, before, edges]: [number[], number[], number[], (Edge | null)[]] = [[2 * from], [1], [-1], [null]];
  let [begin, end] = [0, 1];
  for (let step = 0; step < MOST_STEPS && begin < end; step++) {
    const touched: number[] = [];
    for (let arrival = begin; arrival < end; arrival++) {
      const crossedBefore = state[arrival] & 1;
      for (const edge of graph.edges[state[arrival] >> 1]) {
        const louder = gain[arrival] * edge.gain;
        if (louder < bound) continue;
        const to = 2 * edge.to + (edge.coupling === null ? crossedBefore : 1);
        const known = newest[to];
        if (louder <= best[to] || (known >= 0 && louder <= gain[known])) continue;
        if (known >= 0) [gain[known], before[known], edges[known]] = [louder, arrival, edge];
        else {
          newest[to] = state.push(to) - 1;
          gain.push(louder);
          before.push(arrival);
          edges.push(edge);
          touched.push(to);
        }
      }
    }
    for (const to of touched) {
      if (bestArrival[to] < 0) reached[to] = newest[to];
      best[to] = gain[newest[to]];
      bestArrival[to] = newest[to];
      newest[to] = -1;
    }
    [begin, end] = [end, state.length];
  }
  const pathTo = (last: number): SoundPath => {
    const path: SoundPath = { places: [], gainDb: gainToDb(gain[last]), delayMs: 0, couplings: [] };
    for (let arrival = last; arrival >= 0; arrival = before[arrival]) {
      const id = graph.places[state[arrival] >> 1];
      if (!id.startsWith('mouth:')) path.places.push(id);
      const edge = edges[arrival];
      path.delayMs += edge?.delayMs ?? 0;
      if (edge?.coupling) path.couplings.push(edge.coupling);
    }
    path.places.reverse();
    path.couplings.reverse();
    return path;
  };
  const start: SoundPath | undefined = leastCouplings === 0 ? { places: [graph.places[from]], gainDb: 0, delayMs: 0, couplings: [] } : undefined;
  return {
    get(place) {
      const crossed = bestArrival[2 * place + 1];
      const straight = leastCouplings === 0 ? bestArrival[2 * place] : -1;
      const last = straight >= 0 && (crossed < 0 || best[2 * place] > best[2 * place + 1] || (best[2 * place] === best[2 * place + 1] && reached[2 * place] < reached[2 * place + 1])) ? straight : crossed;
      // Nothing is louder than not to have gone away.
      if (start && place === from && (last < 0 || gain[last] <= 1)) return start;
      return last < 0 ? undefined : pathTo(last);
    },
  };
}
