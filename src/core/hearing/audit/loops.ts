import type { SoundGraph } from './graph';
import { strongestPaths, type Paths, type SoundPath } from './paths';

/** Loops weaker than this are of no interest to anybody. */
const WEAKEST_DB = -60;

/** The strongest loop through each coupling, strongest first, each loop once. */
export function worstLoops(graph: SoundGraph, most: number): SoundPath[] {
  const loops = new Map<string, SoundPath>();
  const pathsFrom = new Map<number, Paths>();
  graph.edges.forEach((edges, from) => {
    for (const { to, gain, delayMs, coupling } of edges) {
      if (!coupling || graph.places[from].startsWith('mouth:')) continue;
      const paths = pathsFrom.get(to) ?? strongestPaths(graph, to, WEAKEST_DB, 0);
      pathsFrom.set(to, paths);
      const back = paths.get(from);
      if (!back) continue;
      const couplings = [coupling, ...back.couplings];
      const key = couplings.map(({ id }) => id).sort().join(' + ');
      const gainDb = back.gainDb + 20 * Math.log10(gain);
      if ((loops.get(key)?.gainDb ?? WEAKEST_DB) >= gainDb) continue;
      loops.set(key, { places: [graph.places[from], ...back.places], gainDb, delayMs: delayMs + back.delayMs, couplings });
    }
  });
  return [...loops.values()].sort((a, b) => b.gainDb - a.gainDb).slice(0, most);
}
