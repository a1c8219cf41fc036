import { describe, expect, it } from 'vitest';
import { ownSpeech, STEPS_PER_SECOND } from '../src/core/checks/own-speech';
import { createTrackChecker } from '../src/core/checks/track-check';
import { powerToDb } from '../src/core/dsp/decibels';
import { recordedTake, type RecordedBleed } from './recorded-take';

const RATE = 48_000;
const STEP = RATE / STEPS_PER_SECOND;
const SECONDS = 60;
/** What is quieter is lost in noise and in what bleeds there. */
const SPEAKS_DB = -42;
const WAY: RecordedBleed = { source: 0, target: 1, gainDb: -28, delayMs: 187, shape: 'flat', reverberationMs: 200, carries: 'voice' };

describe('a track of a recorded voice', { timeout: 60_000 }, () => {
  it.each([
    { seed: 91, noiseDb: -80 },
    { seed: 93, noiseDb: -60 },
  ])('has its noise to half a decibel, and its owner’s speech without the one who bleeds into it (seed $seed, $noiseDb dBFS)', ({ seed, noiseDb }) => {
    const { clean, tracks } = recordedTake({ people: 3, seconds: SECONDS, seed, noiseDb, overlap: 0.25, bleed: [WAY] });
    const checkers = tracks.map((track) => {
      const checker = createTrackChecker(1);
      for (let at = 0; at < track.length; at += 2 * RATE) checker.push([track.subarray(at, at + 2 * RATE)]);
      return checker;
    });
    tracks.forEach((_, who) => {
      const { noiseFloorDb } = checkers[who].result();
      expect(Math.abs(noiseFloorDb! - noiseDb), `noise of track ${who}: ${noiseFloorDb}`).toBeLessThan(0.5);
      const beside = who === WAY.target ? [{ steps: checkers[WAY.source].steps(), gainDb: WAY.gainDb, delayMs: WAY.delayMs }] : [];
      const speech = ownSpeech(checkers[who].steps(), noiseFloorDb, beside);
      let [spoken, missed, imagined] = [0, 0, 0];
      for (let step = 0; step < SECONDS * STEPS_PER_SECOND; step++) {
        const power = clean[who].subarray(step * STEP, (step + 1) * STEP).reduce((sum, x) => sum + x * x, 0) / STEP;
        const found = speech.some(([from, to]) => step * STEP >= from && step * STEP < to);
        if (powerToDb(power) > SPEAKS_DB) {
          spoken++;
          if (!found) missed++;
        } else if (found) imagined++;
      }
      expect(missed / spoken, `of what ${who} said that is missed`).toBeLessThan(0.05);
      // Short pauses within what somebody says belong to it.
      expect(imagined / (SECONDS * STEPS_PER_SECOND), `of the track of ${who} taken for speech that is none`).toBeLessThan(0.2);
    });
  });
});
