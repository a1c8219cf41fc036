import type { HomeClock } from './clock';
import type { Point } from './find-points';
import { median } from './median';
import { at16k, type TwoRecordings } from './recordings';
import { TO_16_KHZ } from '../dsp/decimate';

/** A stretch of the line through which its delay stayed the same. */
export interface LineStretch {
  /** Samples of the line; the end is exclusive. */
  from: number;
  to: number;
  /** Home sample minus line sample, less what the home clock has run ahead; samples. */
  offset: number;
  /** Windows that showed it. */
  windows: number;
}

const RATE = 48000;
/** Points of one stretch agree within this: 0.5 ms. */
const SAME = 24;
/** Frames in which a jump is looked for: 5 ms at 16 kHz. */
const FRAME = 80;

/** The stretches of the line between its jumps; the places of the jumps are looked for between the windows that show them. */
export async function findStretches(two: TwoRecordings, points: readonly Point[], clock: HomeClock): Promise<LineStretch[]> {
  const rest = ({ at, offset }: Point) => offset - clock.ahead(at);
  const groups = grouped(points, rest);
  const offsets = groups.map((group) => median(group.map(rest)));
  const line = at16k(two.line);
  const home = at16k(two.home);
  const stretches: LineStretch[] = [];
  for (const [k, group] of groups.entries()) {
    const before = stretches.at(-1);
    if (before) before.to = await jumpBetween(line, home, clock, before.offset, offsets[k], groups[k - 1].at(-1)!.at - RATE, group[0].at + RATE);
    stretches.push({ from: before?.to ?? 0, to: two.lineSamples, offset: offsets[k], windows: group.length });
  }
  return stretches;
}

/** Runs of points with one delay; a single one that fits nowhere is left out. */
function grouped(points: readonly Point[], rest: (point: Point) => number): Point[][] {
  const runs: Point[][] = [];
  for (const point of points) {
    const last = runs.at(-1);
    if (last && Math.abs(rest(point) - median(last.slice(-9).map(rest))) < SAME) last.push(point);
    else runs.push([point]);
  }
  // What a stray window parted belongs together again.
  const joined: Point[][] = [];
  for (const run of runs.filter((one) => one.length > 1)) {
    const last = joined.at(-1);
    if (last && Math.abs(median(last.slice(-9).map(rest)) - median(run.slice(0, 9).map(rest))) < SAME) last.push(...run);
    else joined.push(run);
  }
  return joined;
}

type Read16k = ReturnType<typeof at16k>;

/** Where one delay gives way to another: the place at which the unlikeness before it by the one and after it by the other is least. */
async function jumpBetween(line: Read16k, home: Read16k, clock: HomeClock, before: number, after: number, from: number, to: number): Promise<number> {
  const start = Math.max(0, Math.floor(from / TO_16_KHZ));
  const frames = Math.max(1, Math.floor((to / TO_16_KHZ - start) / FRAME));
  const heard = differences(await line(start, frames * FRAME + 1));
  const unlikeness = async (offset: number) => {
    // Over some seconds two clocks part by several samples: each frame has its place.
    const shiftAt = (k: number) => Math.round((offset + clock.ahead((start + k * FRAME) * TO_16_KHZ)) / TO_16_KHZ);
    const lowest = Math.min(shiftAt(0), shiftAt(frames));
    const spoken = differences(await home(start + lowest, frames * FRAME + 1 + Math.abs(shiftAt(frames) - shiftAt(0))));
    return Float64Array.from({ length: frames }, (_, k) => {
      const shift = shiftAt(k) - lowest;
      let sum = 0;
      for (let i = k * FRAME; i < (k + 1) * FRAME; i++) sum += (heard[i] - spoken[i + shift]) ** 2;
      return sum;
    });
  };
  const [first, second] = [await unlikeness(before), await unlikeness(after)];
  let sum = second.reduce((total, one) => total + one, 0);
  let least = sum;
  let split = 0;
  for (let k = 0; k < frames; k++) {
    sum += first[k] - second[k];
    if (sum < least) [least, split] = [sum, k + 1];
  }
  return (start + split * FRAME) * TO_16_KHZ;
}

/** From each sample to the next: raises what is high in a voice, where a small shift shows. Brought to one level, whatever the gain. */
function differences(samples: Float32Array): Float32Array {
  const out = new Float32Array(samples.length - 1);
  let power = 0;
  for (let i = 0; i < out.length; i++) {
    out[i] = samples[i + 1] - samples[i];
    power += out[i] * out[i];
  }
  const gain = power > 0 ? 1 / Math.sqrt(power) : 0;
  for (let i = 0; i < out.length; i++) out[i] *= gain;
  return out;
}
