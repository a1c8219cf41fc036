import { describe, expect, it } from 'vitest';
import { simulateHomeAndLine } from '../practice/home-and-line';
import { judgeAlignment } from '../testing/judge-alignment';
import { alignHome } from './align-home';
import { placed } from './placement';

const RATE = 48000;
const simulate = (seed: number, ppm: number, seconds = 75) => simulateHomeAndLine({ seed, seconds, ppm, loss: 0.02 });

describe('a home recording', () => {
  it.each([
    { seed: 1, ppm: 50 },
    { seed: 2, ppm: -50 },
  ])('is placed within 1 ms at $ppm ppm, whatever the line’s buffer does, and what the line lost is listed', async ({ seed, ppm }) => {
    const two = simulate(seed, ppm);
    const found = (await alignHome(two))!;
    const judged = judgeAlignment(two, found, ppm);
    expect(two.jumps.length).toBeGreaterThan(1);
    expect(judged.wrongShare).toBe(0);
    expect(judged.worstOfTheRestMs).toBeLessThan(0.1);
    expect(Math.abs(judged.driftErrorPpm)).toBeLessThan(1);
    expect(judged.latenessMovesMs).toBeLessThan(0.2);
    expect(judged.lostPackets).toBeGreaterThan(10);
    expect(judged.listedPackets).toBeGreaterThan(0.85 * judged.lostPackets);
    expect(judged.listedNeedlesslySeconds).toBeLessThan(1);
    expect(found.homeGain).toBeCloseTo(1, 1);
  });

  it('that stood still for a while is placed on both sides of the break', async () => {
    const two = simulate(5, 20);
    const [from, to] = [30 * RATE, 30.8 * RATE];
    const brokenOff = (at: number) => (at < from ? at : at + to - from);
    const home = (at: number, length: number) => {
      const before = Math.max(0, Math.min(length, from - at));
      const out = new Float32Array(length);
      out.set(two.home(at, before));
      out.set(two.home(brokenOff(at + before), length - before), before);
      return out;
    };
    const { placement } = (await alignHome({ ...two, home, homeSamples: two.homeSamples - (to - from) }))!;
    expect(placement.pieces).toHaveLength(2);
    const late = placement.pieces.map((piece) => {
      const at = (piece.from + piece.to) / 2;
      return (two.spokenAt(at) - brokenOff(placement.homeAt(piece, at))) / 48;
    });
    // Each side lies at a delay that the line had.
    for (const one of late) expect(one > 55 && one < 265, `${one} ms late`).toBe(true);
  });

  it('of somebody else belongs nowhere', async () => {
    const one = simulate(7, 0, 40);
    const other = simulate(8, 0, 40);
    expect(await alignHome({ ...one, home: other.home, homeSamples: other.homeSamples })).toBeNull();
    expect(await alignHome({ ...one, home: () => new Float32Array(0), homeSamples: 0 })).toBeNull();
  });

  it('sounds on the session clock as it sounded at home', async () => {
    const ppm = 50;
    const two = simulate(9, ppm, 40);
    const { placement } = (await alignHome(two))!;
    const at = 20 * RATE;
    const heard = await placed(two.home, placement, at, RATE);
    const [piece] = placement.pieces;
    const first = Math.round(placement.homeAt(piece, at)) - 100;
    const spoken = two.home(first, RATE + 200);
    let rest = 0;
    let power = 0;
    for (let i = 0; i < RATE; i += 7) {
      const place = placement.homeAt(piece, at + i) - first;
      const whole = Math.floor(place);
      const straight = spoken[whole] + (place - whole) * (spoken[whole + 1] - spoken[whole]);
      rest += (heard[i] - straight) ** 2;
      power += heard[i] ** 2;
    }
    expect(power).toBeGreaterThan(0);
    expect(10 * Math.log10(rest / power)).toBeLessThan(-30);
  });
});
