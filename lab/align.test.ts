import { describe, expect, it } from 'vitest';
import { alignHome } from '../src/core/alignment/align-home';
import { createRandom, seedFor } from '../src/core/random';
import { opusLine } from './opus-line';
import { stretchOf } from './read-wav';
import { recordedSpeech } from './recorded-voices';

const RATE = 48_000;
const SECONDS = 90;
/** The guest's own recording begins later than the line. */
const HOME_BEGINS = 2 * RATE;
/** Somebody who talks for a while and listens for a while. */
const [TURN, TALK] = [10 * RATE, 6.5 * RATE];
/** Half a packet, by which line and home are compared. */
const HALF = 480;

describe('a recorded voice at home and over a line', { timeout: 60_000 }, () => {
  // The second and the third have much below 200 Hz, which a speech coder turns in phase.
  it.each([
    { talker: 1, kbps: 32, loss: 0.02 },
    { talker: 4, kbps: 48, loss: 0.02 },
    { talker: 6, kbps: 24, loss: 0.03 },
  ])('is placed within 0.1 ms wherever the buffer stands, and what is listed was lost (talker $talker, $kbps kbit/s)', async ({ talker, kbps, loss }) => {
    const random = createRandom(seedFor(talker, 'room'));
    const spoken = recordedSpeech(talker, SECONDS + 3, 5).map((x, i) => (i % TURN < TALK ? x : 0) + 10 ** (-70 / 20) * random.normal());
    const { sound, at } = opusLine({ kbps, loss, jumpsPerSecond: 0.05 })(spoken, talker);
    const line = sound.subarray(0, SECONDS * RATE);
    const home = spoken.subarray(HOME_BEGINS);
    const { stretches, clock, better } = (await alignHome({ line: stretchOf(line), lineSamples: line.length, home: stretchOf(home), homeSamples: home.length }))!;
    expect(Math.abs(clock.driftPpm)).toBeLessThan(2);
    const off: number[] = [];
    for (let sample = TURN; sample < line.length; sample += RATE) {
      const stretch = stretches.find(({ from, to }) => sample >= from && sample < to)!;
      off.push(Math.abs(sample + stretch.offset + clock.ahead(sample) - (sample - HOME_BEGINS - at(sample).delayMs * 48)) / 48);
    }
    // Where a jump fell into a silence there is nothing to tell when.
    expect(off.filter((ms) => ms > 0.1).length / off.length, 'moments that are matched wrong').toBeLessThan(0.06);
    const lostNear = (sample: number): boolean => [-2, -1, 0, 1, 2].some((k) => at(Math.max(0, sample + k * HALF)).lost);
    const halves = better.flatMap(({ atSample, lengthSamples }) => Array.from({ length: lengthSamples / HALF }, (_, k) => atSample + k * HALF));
    const needless = halves.filter((sample) => !lostNear(sample)).length;
    const talked = (SECONDS * TALK * RATE) / TURN / HALF;
    expect(halves.length, 'what was lost is listed').toBeGreaterThan(10);
    expect(needless / talked, 'share of what was said that is listed though nothing was lost').toBeLessThan(0.03);
  });
});
