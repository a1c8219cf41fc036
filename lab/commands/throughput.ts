import { EchoCanceller } from '../../src/core/echo/canceller';
import { PairWatch } from '../../src/core/echo/pair-watch';
import { createEngine } from '../../src/core/engine/engine';
import { auditPlan } from '../../src/core/hearing/audit/index';
import { compilePlan, type CompiledPlan } from '../../src/core/hearing/compile';
import { declareCoupling, type CouplingFrom } from '../../src/core/hearing/coupling';
import { earsOf, PROGRAM, returnOf, voiceOf } from '../../src/core/hearing/ids';
import { createPlan, listenersOf, sourcesOf, type Seat } from '../../src/core/hearing/plan';
import { measureWith, simulateCheck } from '../../src/core/practice/simulated-check';
import { syntheticClip } from '../../src/core/practice/synthetic-voice';
import { createRandom } from '../../src/core/random';
import { parseOptions } from '../arguments';
import { deskTimes } from '../desk-times';
import { plainMixMicroseconds } from '../plain-mix';

export const usage = 'lab throughput [--json]';

const BLOCK = 128;
const BLOCKS_PER_RUN = 1500;
const RUNS = 7;
/** The plan changes this often, so that a share of the blocks has all gains moving. */
const BLOCKS_PER_PLAN_CHANGE = 100;

/** How many times faster than real time the whole engine runs, for growing desks. */
export async function run(words: readonly string[]): Promise<object> {
  parseOptions(words, [], ['json']);
  return {
    unit: 'seconds of sound per second of computing',
    block: BLOCK,
    sizes: [4, 8, 16, 32].map((size) => ({
      sources: size,
      listeners: size,
      allOpen: timesRealTime(size, 1),
      quarterOpen: timesRealTime(size, 0.25),
    })),
    plainC: againstPlainC(),
    desk: await deskTimes(),
    plan24: planTimes(),
    lineCheck12: checkTimes(),
    echo: echoTimes(),
  };
}

/** How many times as long as a plain mix in C the engine takes, everything open and metered, where there is a compiler. */
export function againstPlainC(): object {
  const size = 16;
  const plain = plainMixMicroseconds(size);
  if (plain === null) return { left: 'out: there is no C compiler here' };
  const own = (BLOCK * 1e6) / 48_000 / timesRealTime(size, 1);
  return { sources: size, listeners: size, plainMicroseconds: plain, ownMicroseconds: own, times: own / plain };
}

function timesRealTime(size: number, openShare: number): number {
  const engine = createEngine({ sources: size, listeners: size, maxBlock: BLOCK });
  const random = createRandom(size);
  const plans = [0, 1].map(() => denseplan(size, openShare, random));
  const noise = Float32Array.from({ length: BLOCK * 64 }, () => 0.1 * random.normal());
  const runOnce = (): number => {
    const began = performance.now();
    for (let block = 0; block < BLOCKS_PER_RUN; block++) {
      if (block % BLOCKS_PER_PLAN_CHANGE === 0) engine.setPlan(plans[(block / BLOCKS_PER_PLAN_CHANGE) % 2]);
      for (let n = 0; n < size; n++) {
        const from = ((block + n) % 63) * BLOCK;
        engine.inputs[n].left.set(noise.subarray(from, from + BLOCK));
        engine.inputs[n].right.set(noise.subarray(from + BLOCK, from + 2 * BLOCK));
      }
      engine.process(BLOCK);
    }
    return (performance.now() - began) / 1000;
  };
  runOnce();
  // The median: the machine may be shared, and one slow run says nothing about the engine.
  const times = Array.from({ length: RUNS }, runOnce).sort((a, b) => a - b);
  return (BLOCKS_PER_RUN * BLOCK) / 48000 / times[Math.floor(RUNS / 2)];
}

/** Milliseconds the desk computes after the last sample of a line check with twelve callers, one of them at loudspeakers. */
function checkTimes(): object {
  measureWith(syntheticClip(1, 1));
  const way = { from: returnOf('caller-1'), to: voiceOf('caller-1'), gainDb: -20, delayMs: 60, throughRoom: true } as const;
  const times = [1, 2, 3].map((seed) => simulateCheck({ callers: 12, seed, roomDb: -75, line: (sound) => ({ sound, delaysMs: [0] }), faults: { ways: [way] } }).analysisMs);
  return { callers: 12, medianMs: Math.round(times.sort((a, b) => a - b)[1]) };
}

/** Shares of one core that it takes to watch a source for echoes, and to cancel one. */
function echoTimes(): object {
  const [sent, own] = [syntheticClip(1, 12), syntheticClip(2, 12)];
  const microphone = own.map((x, i) => x + 0.1 * (sent[i - 4800] ?? 0));
  const share = (work: (at: number) => unknown): number => {
    const began = performance.now();
    for (let at = 0; at + BLOCK <= sent.length; at += BLOCK) work(at);
    return (performance.now() - began) / 1000 / (sent.length / 48000);
  };
  const shares = (make: () => (at: number) => unknown): number => [1, 2, 3].map(() => share(make())).sort((a, b) => a - b)[1];
  const part = (sound: Float32Array, at: number): Float32Array => sound.subarray(at, at + BLOCK);
  const out = new Float32Array(BLOCK);
  return {
    unit: 'share of a core for each source',
    watch: shares(() => {
      const pair = new PairWatch();
      return (at) => pair.take(part(microphone, at), part(sent, at), part(sent, at));
    }),
    canceller: shares(() => {
      const canceller = new EchoCanceller();
      canceller.begin({ delayMs: 100, gainDb: -20 });
      return (at) => {
        canceller.hear(part(sent, at), BLOCK);
        canceller.process(part(microphone, at), out, BLOCK);
      };
    }),
  };
}

/** Milliseconds to compile and to audit a plan of 24 sources, 24 listeners and 60 couplings. */
function planTimes() {
  const random = createRandom(24);
  const seats = Array.from({ length: 18 }, (_, k): Seat => ({
    id: `seat-${k}`,
    name: `Seat ${k}`,
    role: k === 0 ? 'host' : 'caller',
    line: 'link',
    reflexive: 'themselves',
  }));
  const named = (count: number) => Array.from({ length: count }, (_, k) => ({ id: `n-${k}`, name: `N ${k}` }));
  const plan = createPlan(seats, named(3), named(5), named(2));
  plan.couplings = Array.from({ length: 60 }, (_, k) => {
    const seat = () => `seat-${1 + random.index(17)}`;
    const from: CouplingFrom[] = [earsOf(seat()), returnOf(seat()), PROGRAM];
    return { ...declareCoupling('loudspeakers', from[random.index(3)], voiceOf(seat())), id: `c-${k}`, gainDb: random.between(-45, -12) };
  });
  return {
    sources: sourcesOf(plan).length,
    listeners: listenersOf(plan).length,
    couplings: plan.couplings.length,
    compileMs: median(() => compilePlan(plan)),
    auditMs: median(() => auditPlan(plan)),
  };
}

function median(work: () => unknown): number {
  for (let run = 0; run < 20; run++) work();
  const times = Array.from({ length: 31 }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return times.sort((a, b) => a - b)[15];
}

/** Every listener hears the first sources after its own place; gains keep the sums below the limiter. */
function denseplan(size: number, openShare: number, random: ReturnType<typeof createRandom>): CompiledPlan {
  const open = Math.round(size * openShare);
  const source: number[] = [];
  const first = new Uint16Array(size + 1);
  for (let m = 0; m < size; m++) {
    for (let k = 0; k < open; k++) source.push((m + k) % size);
    first[m + 1] = source.length;
  }
  const gain = Float32Array.from(source, () => random.between(0.5, 1) / size);
  return {
    ducking: [],
    processing: [],
    offsets: [],
    sourceIds: Array.from({ length: size }, (_, n) => `voice:${n}` as const),
    listenerIds: Array.from({ length: size }, (_, m) => `feed:${m}` as const),
    first,
    source: Uint16Array.from(source),
    gainLeft: gain,
    gainRight: gain,
    raw: new Uint8Array(source.length),
  };
}
