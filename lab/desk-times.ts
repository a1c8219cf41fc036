import { readFileSync } from 'node:fs';
import makeNoiseLibrary from '@echogarden/rnnoise-wasm';
import { createEngine } from '../src/core/engine/engine';
import type { Suppressor } from '../src/core/engine/strip/noise-suppression';
import { compilePlan } from '../src/core/hearing/compile';
import { setStrip } from '../src/core/hearing/edit';
import { returnOf, voiceOf } from '../src/core/hearing/ids';
import { createPlan, type HearingPlan, type Seat } from '../src/core/hearing/plan';
import { createSuppressors } from '../src/core/noise/suppressors';
import { syntheticClip } from '../src/core/practice/synthetic-voice';
import { CLOSED_STRIP, INSERTS, withInsert, type InsertName, type StripSettings } from '../src/core/strip/settings';

const BLOCK = 128;
const BLOCK_MICROSECONDS = (BLOCK * 1e6) / 48_000;
const CALLERS = 12;
const BLOCKS = 4000;

const seat = (k: number): Seat => ({ id: `seat-${k}`, name: `Seat ${k}`, role: k === 0 ? 'host' : 'caller', line: 'link', reflexive: 'themselves' });
const PLAN = createPlan(Array.from({ length: CALLERS + 1 }, (_, k) => seat(k)), [{ id: 'bed', name: 'Bed' }, { id: 'effects', name: 'Effects' }]);

interface Times {
  /** Shares of a block's time. */
  median: number;
  /** The slowest of a thousand. */
  slowest: number;
}

const makeSuppressor = (): Promise<() => Suppressor> => createSuppressors(makeNoiseLibrary, new WebAssembly.Module(readFileSync('node_modules/@echogarden/rnnoise-wasm/rnnoise.wasm')));

const RAISED: StripSettings = withInsert(CLOSED_STRIP, 'equaliser', { bands: CLOSED_STRIP.equaliser.bands.map((band) => ({ ...band, gainDb: 3 })) });

const withInserts = (names: readonly InsertName[]): StripSettings =>
  names.reduce<StripSettings>((strip, name) => withInsert(strip, name, { on: true } as Partial<StripSettings[typeof name]>), RAISED);

const stripped = (strip: StripSettings, seats: number): HearingPlan => PLAN.seats.slice(0, seats).reduce((plan, { id }) => setStrip(plan, voiceOf(id), () => strip), PLAN);

/** What the audio thread has to do for a desk of twelve callers: everything off, each thing by itself, and all of it at once. */
export async function deskTimes(): Promise<object> {
  const make = await makeSuppressor();
  const all = PLAN.seats.length;
  const quiet = withInserts(INSERTS.filter((name) => name !== 'noise'));
  const full = ['seat-1', 'seat-2'].reduce((plan, id) => setStrip(plan, voiceOf(id), () => withInserts(INSERTS)), stripped(quiet, all));
  const nothing = timesOf(PLAN, 0, make);
  const unevenly = ({ mean, slowest }: Times & { mean: number }) => ({ more: mean - nothing.mean, slowest });
  const beyond = (times: Times): number => times.median - nothing.median;
  return {
    unit: 'share of a block’s time',
    callers: CALLERS,
    everythingOff: nothing,
    stripsFullButNoise: { voices: all, more: beyond(timesOf(stripped(quiet, all), 0, make)) },
    ...Object.fromEntries(INSERTS.filter((name) => name !== 'noise').map((name) => [name, { voices: all, more: beyond(timesOf(stripped(withInserts([name]), all), 0, make)) }])),
    // Neither is due in every block: the mean says what they cost, the slowest of a thousand how evenly.
    twoSuppressions: unevenly(timesOf(stripped(withInserts(['noise']), 2), 0, make)),
    threeCancellers: unevenly(timesOf(PLAN, 3, make)),
    allAtOnce: timesOf(full, 3, make),
  };
}

function timesOf(plan: HearingPlan, cancellers: number, make: () => Suppressor): Times & { mean: number } {
  const compiled = compilePlan(plan);
  const engine = createEngine({ sources: compiled.sourceIds.length, listeners: compiled.listenerIds.length, maxBlock: BLOCK });
  engine.suppressWith(make);
  engine.setPlan(compiled);
  const voices = compiled.sourceIds.map((_, k) => syntheticClip(k + 1, 4));
  for (let k = 1; k <= cancellers; k++) {
    engine.cancel({ source: compiled.sourceIds.indexOf(voiceOf(`seat-${k}`)), listener: compiled.listenerIds.indexOf(returnOf(`seat-${k}`)), delayMs: 120, gainDb: -20 });
  }
  const times = new Float64Array(BLOCKS);
  for (let block = -500; block < BLOCKS; block++) {
    engine.inputs.forEach(({ left, right }, n) => {
      const at = ((block + 500) * BLOCK) % (voices[n].length - BLOCK);
      left.set(voices[n].subarray(at, at + BLOCK));
      right.set(left);
    });
    const began = performance.now();
    engine.process(BLOCK);
    if (block >= 0) times[block] = (1000 * (performance.now() - began)) / BLOCK_MICROSECONDS;
  }
  const sorted = [...times].sort((a, b) => a - b);
  return { median: sorted[BLOCKS / 2], mean: sorted.reduce((sum, time) => sum + time, 0) / BLOCKS, slowest: sorted[BLOCKS - 1 - BLOCKS / 1000] };
}
