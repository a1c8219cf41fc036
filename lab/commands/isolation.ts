import { measureIsolation } from '../../src/core/checks/isolation';
import { parseOptions, UsageError } from '../arguments';
import { readMono, stretchOf } from '../read-wav';

export const usage = 'lab isolation --tracks A.wav,B.wav[,…] [--json]';

/** How much of each track is in each other one: files of one length at 48 kHz, beginning together. */
export async function run(words: readonly string[]): Promise<object> {
  const paths = parseOptions(words, ['tracks'], ['json']).get('tracks')?.split(',') ?? [];
  if (paths.length < 2) throw new UsageError('--tracks needs two files or more, with commas between them.');
  const tracks = paths.map(readMono);
  const read = tracks.map(stretchOf);
  const found = await measureIsolation({ count: tracks.length, targets: tracks.map((_, place) => place), lengthSamples: Math.max(...tracks.map(({ length }) => length)), read: (track, from, length) => read[track](from, length) });
  return { pairs: found.map(({ source, target, verdict, gainDb, delayMs, atSample }) => ({ source: paths[source], in: paths[target], verdict, gainDb, delayMs, atSample })) };
}
