import { createRandom, seedFor, type Random } from '../random';
import { syntheticClip } from './synthetic-voice';

export interface HomeAndLineOptions {
  seed: number;
  seconds: number;
  /** How much faster the home clock runs, parts per million. */
  ppm: number;
  /** Share of packets that are lost and concealed. */
  loss: number;
}

/** One talker recorded at home by their own clock, and as a line brings them: what is true of both is known. */
export interface HomeAndLine {
  lineSamples: number;
  homeSamples: number;
  line(from: number, length: number): Float32Array;
  home(from: number, length: number): Float32Array;
  /** Delay of the line that was in force at a session sample, samples. */
  delayAt(at: number): number;
  /** When the delay jumped, session samples. */
  jumps: readonly number[];
  /** The home sample that a session sample holds when the line works. */
  homeAt(at: number): number;
  /** Home sample spoken at a session sample, without the line's delay. */
  spokenAt(at: number): number;
  isLost(at: number): boolean;
}

const RATE = 48000;
const PACKET = 960;
const CLIPS = 12;
/** Sound is laid out in slots of so many samples, each a clip or silence. */
const SLOT = 4 * RATE;
const HOME_STARTS = 3.217;

/**
 * A line whose buffer moves every few seconds, by a few milliseconds as a rule and by more now and then; which loses
 * packets, a lost one being the sound before it once more, fading. Computed where it is read, so that an hour needs no
 * room.
 */
export function simulateHomeAndLine({ seed, seconds, ppm, loss }: HomeAndLineOptions): HomeAndLine {
  const lineSamples = Math.round(seconds * RATE);
  const clips = Array.from({ length: CLIPS }, (_, k) => syntheticClip(seedFor(seed, 'talker') + k, 3.2));
  const random = createRandom(seedFor(seed, 'layout'));
  const slots = Array.from({ length: Math.ceil(lineSamples / SLOT) + 4 }, () => ({ clip: random.next() < 0.75 ? random.index(CLIPS) : -1, lead: random.index(SLOT - Math.round(3.2 * RATE)) }));
  const lost = Array.from({ length: Math.ceil(lineSamples / PACKET) }, () => random.next() < loss);
  const { jumps, delays } = movingDelay(createRandom(seedFor(seed, 'buffer')), lineSamples);
  const rate = 1 + ppm * 1e-6;

  /** What the talker says, by the home clock. */
  const voice = (from: number, length: number): Float32Array => {
    const out = new Float32Array(length);
    for (let slot = Math.max(0, Math.floor(from / SLOT)); slot * SLOT < from + length && slot < slots.length; slot++) {
      const { clip, lead } = slots[slot];
      if (clip < 0) continue;
      const at = slot * SLOT + lead - from;
      const skipped = Math.max(0, -at);
      if (at < length && skipped < clips[clip].length) out.set(clips[clip].subarray(skipped, Math.min(clips[clip].length, length - at)), at + skipped);
    }
    return out;
  };
  const jumpBefore = (at: number): number => {
    let low = 0;
    for (let high = jumps.length - 1; low < high; ) {
      const middle = (low + high + 1) >> 1;
      if (jumps[middle] <= at) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  const delayAt = (at: number) => delays[jumpBefore(at)];
  const spokenAt = (at: number) => (at + HOME_STARTS * RATE) * rate;
  const homeAt = (at: number) => spokenAt(at - delayAt(at));
  const isLost = (at: number) => lost[Math.floor(at / PACKET)] ?? false;

  /** Up to the next packet or jump of the line. */
  const runFrom = (at: number, end: number) => Math.min(end, (Math.floor(at / PACKET) + 1) * PACKET, jumps[jumpBefore(at) + 1] ?? end);
  const line = (from: number, length: number): Float32Array => {
    const out = new Float32Array(length);
    const end = Math.min(from + length, lineSamples);
    for (let at = Math.max(0, from); at < end; ) {
      const until = runFrom(at, end);
      // What is concealed is the packet before, fading.
      const concealed = isLost(at) && at >= PACKET;
      const begin = spokenAt(at - (concealed ? PACKET : 0) - delayAt(at));
      const first = Math.floor(begin) - 1;
      const sound = voice(first, until - at + 5);
      for (let i = 0; at < until; at++, i++) out[at - from] = (concealed ? 0.5 : 1) * cubic(sound, begin - first + i * rate);
    }
    return out;
  };
  const homeSamples = Math.floor(spokenAt(lineSamples));
  const home = (from: number, length: number): Float32Array => {
    const out = voice(from, length);
    return from + length > homeSamples ? out.fill(0, Math.max(0, homeSamples - from)) : out;
  };
  return { lineSamples, homeSamples, line, home, delayAt, jumps: jumps.slice(1), homeAt, spokenAt, isLost };
}

/** The value between samples (Catmull and Rom, 1974). */
function cubic(samples: Float32Array, position: number): number {
  const whole = Math.floor(position);
  const share = position - whole;
  const [a, b, c, d] = [samples[whole - 1], samples[whole], samples[whole + 1], samples[whole + 2]];
  return b + 0.5 * share * (c - a + share * (2 * a - 5 * b + 4 * c - d + share * (3 * (b - c) + d - a)));
}

function movingDelay(random: Random, lineSamples: number): { jumps: number[]; delays: number[] } {
  const jumps = [0];
  const delays = [Math.round(0.12 * RATE)];
  for (let at = random.between(8, 20) * RATE; at < lineSamples; at += random.between(6, 40) * RATE) {
    const far = random.next() < 0.15;
    const step = Math.round(random.between(far ? 20 : 3, far ? 80 : 15) * (RATE / 1000)) * (random.next() < 0.5 ? -1 : 1);
    const last = delays.at(-1)!;
    jumps.push(Math.round(at));
    delays.push(last + step < 0.06 * RATE || last + step > 0.26 * RATE ? last - step : last + step);
  }
  return { jumps, delays };
}
