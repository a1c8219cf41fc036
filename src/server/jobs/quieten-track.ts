import { createNoiseFinder } from '@/core/checks/noise-floor';
import { quieten } from '@/core/noise/quieten';
import { completeDerivedTrack, findTake, findTrack, removeTrack } from '../takes/queries';
import { storeDerived } from './derived-track';
import { loadSuppressors } from './noise-library';
import { RefusedTask } from './refused';
import { createTrackReader } from './track-reader';
import type { Work } from './work';

const STEP = 4800;
/** Steps of the newest second. */
const SECOND = 10;

export interface QuietenResult {
  track: string;
  /** The quietest steady second, dBFS, before and after; null where there was none. */
  beforeDb: number | null;
  afterDb: number | null;
}

/** Makes a voice track without its noise, beside the one that has it. */
export async function quietenTrack({ pool, take: takeId, progress }: Work, trackId: string): Promise<QuietenResult> {
  const take = await findTake(pool, takeId);
  if (take.length_samples === null) throw new RefusedTask('This take is still being recorded.');
  const track = await findTrack(pool, takeId, trackId);
  const [before, after] = [floorOf(), floorOf()];
  const reader = createTrackReader(pool, track, take.length_samples);
  const suppressor = (await loadSuppressors())();
  const read = async (from: number, length: number): Promise<Float32Array> => {
    const samples = await reader.mono(from, length);
    before.push(samples);
    return samples;
  };
  const quietened = quieten({ lengthSamples: take.length_samples, read, suppressor, onProgress: progress });
  const made = await storeDerived(pool, track, 'quietened', heard(quietened, after.push));
  try {
    await completeDerivedTrack(pool, made, { beforeDb: before.result(), afterDb: after.result() });
  } catch (error) {
    await removeTrack(pool, made);
    throw error;
  }
  return { track: made, beforeDb: before.result(), afterDb: after.result() };
}

async function* heard(pieces: AsyncIterable<Float32Array>, push: (samples: Float32Array) => void): AsyncGenerator<Float32Array> {
  for await (const piece of pieces) {
    push(piece);
    yield piece;
  }
}

/** The noise between words, as the checks find it. */
function floorOf() {
  const finder = createNoiseFinder();
  let steps: number[] = [];
  let [sum, count] = [0, 0];
  return {
    push(samples: Float32Array): void {
      for (let i = 0; i < samples.length; i++) {
        sum += samples[i] ** 2;
        if (++count < STEP) continue;
        steps = [...steps.slice(1 - SECOND), sum / STEP];
        finder.push(steps);
        [sum, count] = [0, 0];
      }
    },
    result: (): number | null => finder.result().floorDb,
  };
}
