import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { ClockBridge } from './clock-bridge';
import { DRIFT_PPM, EVENED, FLOWING, followTurns, GLITCHES, LOST, newSoundRing, RATE, STILL, WAITING, writeSound } from './sound-ring';

const BLOCK = 128;

interface Other {
  /** The writer's clock against the reader's, ppm. */
  ppm?: number;
  rate?: number;
  piece?: number;
  /** So many blocks are read at once, as an output's buffer is filled. */
  burst?: number;
  /** Time of a piece is late by up to so much, s. */
  jitter?: number;
  /** Pieces come later and earlier by so much, as slowly as a system changes its mind, s. */
  wander?: number;
  /** Nothing arrives in these stretches, s; what would have is lost. */
  away?: [from: number, to: number][];
  /** The reader stands still in these stretches, s; it then goes on where it was. */
  stalls?: [at: number, seconds: number][];
  /** Something is measured through it. */
  still?: boolean;
  seconds: number;
  signal(t: number): number;
}

/** A writer and a reader with clocks of their own, in simulated time. Returns what was read, and when it was said to flow. */
function bridge({ ppm = 0, rate = 48000, piece = 480, burst = 1, jitter = 0, wander = 0, away = [], stalls = [], still = false, seconds, signal }: Other, seed = 1) {
  const ring = newSoundRing();
  ring.counters[RATE] = rate;
  if (still) ring.counters[STILL] = 1;
  const reader = new ClockBridge(ring, 48000);
  const random = createRandom(seed);
  const out = new Float32Array(Math.ceil(seconds * 48000));
  const block = new Float32Array(piece);
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  const pieceSeconds = piece / (rate * (1 + ppm / 1e6));
  let written = 0;
  let due = pieceSeconds;
  for (let clock = 0; clock + BLOCK <= out.length; clock += BLOCK) {
    // A whole buffer is due before its first sample is played.
    const asked = (Math.floor(clock / (burst * BLOCK)) * burst * BLOCK) / 48000;
    const now = asked + stalls.reduce((sum, [at, length]) => (asked >= at ? sum + length : sum), 0);
    for (; due <= now; ) {
      for (let i = 0; i < piece; i++) block[i] = signal((written + i) / rate);
      written += piece;
      if (!away.some(([from, to]) => due >= from && due < to)) writeSound(ring, block, block, piece, Math.floor(1000 * due));
      due = written / (rate * (1 + ppm / 1e6)) + pieceSeconds + jitter * random.next() + wander * (Math.sin(due / 3.1) + Math.sin(due / 7.7 + 1));
    }
    reader.read(left, right, BLOCK, clock, Math.floor(1000 * now));
    out.set(left, clock);
  }
  const turns: [flowing: boolean, seconds: number][] = [];
  followTurns(ring, 0, (flowing, clock) => turns.push([flowing, clock / 48000]));
  return { out, facts: ring.facts, turns };
}

/** Where a few samples stand in a longer signal. */
const placeOf = (few: Float32Array, all: Float32Array): number => all.findIndex((_, at) => few.every((x, i) => all[at + i] === x));

const tone = (hz: number) => (t: number) => 0.5 * Math.sin(2 * Math.PI * hz * t);

/** What is left of a stretch when the best sine of any frequency near `hz` is taken out, dB against the sine. */
function residueDb(samples: Float32Array, hz: number): number {
  let best = Infinity;
  for (let ppm = -400; ppm <= 400; ppm += 2) best = Math.min(best, residueAt(samples, hz * (1 + ppm / 1e6)));
  return 10 * Math.log10(best);
}

function residueAt(samples: Float32Array, hz: number): number {
  let [sc, ss, energy] = [0, 0, 0];
  for (let i = 0; i < samples.length; i++) {
    const phase = (2 * Math.PI * hz * i) / 48000;
    sc += samples[i] * Math.cos(phase);
    ss += samples[i] * Math.sin(phase);
    energy += samples[i] * samples[i];
  }
  const fitted = (2 * (sc * sc + ss * ss)) / samples.length;
  return Math.max(1e-15, 1 - fitted / energy);
}

describe('a bridge between two clocks', () => {
  it('passes every sample untouched while the clocks agree, late pieces or not', () => {
    const noise = createRandom(7);
    const sent = Float32Array.from({ length: 60 * 48000 }, () => noise.next() - 0.5);
    const { out, facts } = bridge({ seconds: 60, piece: 1024, jitter: 0.004, wander: 0.001, signal: (t) => sent[Math.round(t * 48000)] });
    // What piles up at the beginning may be left out; from then on nothing is.
    const begin = 8 * 48000;
    const delay = begin - placeOf(out.subarray(begin, begin + 8), sent);
    let differences = 0;
    for (let i = begin; i < out.length; i++) if (out[i] !== sent[i - delay]) differences++;
    expect(differences).toBe(0);
    expect(facts[GLITCHES]).toBeLessThan(2);
    expect(Math.abs(facts[DRIFT_PPM] || 0)).toBeLessThan(30);
  });

  it.each([300, -300, 2000, -2000])('evens out a clock that is %i ppm off before a sample is lost, and says by how much', (ppm) => {
    const { out, facts } = bridge({ seconds: 120, ppm, piece: 1024, jitter: 0.003, signal: tone(997) });
    expect(facts[GLITCHES], 'outages').toBe(0);
    expect(facts[LOST]).toBe(0);
    expect(facts[DRIFT_PPM]).toBeGreaterThan(ppm - 20);
    expect(facts[DRIFT_PPM]).toBeLessThan(ppm + 20);
    const due = (ppm / 1e6) * 48000 * 120;
    // But for what more, or less, waits in the ring since it was known.
    expect(Math.abs(facts[EVENED] - due)).toBeLessThan(1500);
    // A steady sine without a click anywhere in the last minute.
    const tail = out.subarray(out.length - 5 * 48000);
    let worst = 0;
    const turn = 2 * Math.cos((2 * Math.PI * 997 * (1 + ppm / 1e6)) / 48000);
    for (let i = 2; i < tail.length; i++) worst = Math.max(worst, Math.abs(tail[i] - turn * tail[i - 1] + tail[i - 2]));
    expect(20 * Math.log10(worst), 'no click').toBeLessThan(-60);
  });

  it('takes no stall for another clock: a reader that stood still loses nothing, is not later for ever, and passes every bit again', () => {
    const noise = createRandom(7);
    const sent = Float32Array.from({ length: 300 * 48000 }, () => noise.next() - 0.5);
    const { out, facts } = bridge({ seconds: 240, piece: 1024, jitter: 0.003, stalls: [[9, 0.05], [31, 0.02], [33, 0.04]], signal: (t) => sent[Math.round(t * 48000)] ?? 0 });
    expect([facts[GLITCHES], facts[LOST]]).toEqual([0, 0]);
    expect(Math.abs(facts[DRIFT_PPM] || 0)).toBeLessThan(30);
    const tail = out.subarray(235 * 48000);
    const lag = placeOf(tail.subarray(0, 8), sent);
    expect(tail.every((x, i) => x === sent[lag + i])).toBe(true);
    expect((240 + 0.11 - lag / 48000 - 5) * 1000, 'delay, ms').toBeLessThan(130);
  });

  it('evens nothing out that came late while something is measured through it', () => {
    const stalled = { stalls: [[12, 0.15]] as [number, number][], seconds: 20, signal: tone(1000) };
    expect(bridge(stalled).facts[EVENED]).toBeGreaterThan(500);
    expect(bridge({ ...stalled, still: true }).facts[EVENED]).toBe(0);
  });

  it('leaves out at once what piles up while a connection is made', () => {
    const { facts } = bridge({ seconds: 8, stalls: [[0.5, 0.25]], signal: tone(300) });
    expect(facts[LOST] / 48).toBeGreaterThan(200);
    expect(facts[WAITING] / 48).toBeLessThan(60);
  });

  it('says within a minute that a clock is 300 ppm off', () => {
    const { facts } = bridge({ seconds: 60, ppm: 300, piece: 1024, jitter: 0.003, wander: 0.001, signal: tone(400) });
    expect(facts[DRIFT_PPM]).toBeGreaterThan(200);
    expect(facts[DRIFT_PPM]).toBeLessThan(400);
  });

  it.each([0, 1, 2, 3])('knows a clock by the time of day, however large the pieces at both ends are and however often a machine stands still (%i)', (seed) => {
    const random = createRandom(50 + seed);
    const stalls = Array.from({ length: 8 }, (): [number, number] => [4 + 85 * random.next(), 0.01 + 0.05 * random.next()]).sort(([a], [b]) => a - b);
    for (const ppm of [0, 300, -300]) {
      const { facts } = bridge({ seconds: 90, ppm, piece: 2048, burst: 16, jitter: 0.005, stalls, signal: tone(400) }, seed);
      expect(Math.abs(facts[DRIFT_PPM] - ppm), `${ppm} ppm`).toBeLessThan(25);
    }
  });

  it('brings 44.1 kHz to 48 kHz with the clock untouched', () => {
    const { out, facts } = bridge({ seconds: 30, rate: 44100, piece: 441, signal: tone(1000) });
    expect(facts[GLITCHES]).toBe(0);
    expect(residueDb(out.subarray(20 * 48000, 21 * 48000), 1000)).toBeLessThan(-85);
  });

  it('gives silence when nothing comes, goes on by itself, and says from where to where', () => {
    const { out, facts, turns } = bridge({ seconds: 20, away: [[8, 9.5]], signal: tone(300) });
    const silent = (at: number) => out.subarray(at * 48000, at * 48000 + 4800).every((x) => x === 0);
    expect(silent(8.5)).toBe(true);
    expect(silent(7.5)).toBe(false);
    expect(silent(10)).toBe(false);
    expect(facts[FLOWING]).toBe(1);
    expect(facts[GLITCHES]).toBe(1);
    const [, [, from], [, to]] = turns;
    expect(from).toBeGreaterThan(8);
    expect(from).toBeLessThan(8.05);
    expect(to).toBeGreaterThan(9.5);
    expect(to).toBeLessThan(9.58);
    expect(facts[LOST] / 48000).toBeCloseTo(1.5, 1);
  });

  it('says of every outage from where to where, however soon one follows another', () => {
    const { out, turns } = bridge({ seconds: 16, away: [[8, 9.5], [9.6, 9.68], [9.8, 9.95]], signal: tone(300) });
    expect(turns.filter(([flowing]) => !flowing)).toHaveLength(3);
    for (let piece = 100; piece < 1600; piece++) {
      const silent = out.subarray(piece * 480, (piece + 1) * 480).every((x) => x === 0);
      const said = turns.findLast(([, at]) => at < (piece + 1) / 100 - 0.003);
      if (turns.every(([, at]) => Math.abs(at - (piece + 0.5) / 100) > 0.01)) expect(silent, `${piece / 100} s`).toBe(!said![0]);
    }
    // What is left out takes no time, and is said all the same.
    const stood = bridge({ seconds: 8, stalls: [[0.5, 0.25]], signal: tone(300) });
    expect(stood.turns.map(([flowing]) => flowing)).toEqual([true, false, true]);
    expect(stood.turns[1][1]).toBe(stood.turns[2][1]);
  });
});
