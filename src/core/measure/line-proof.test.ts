import { describe, expect, it } from 'vitest';
import { dbToGain } from '../dsp/decibels';
import { syntheticClip } from '../practice/synthetic-voice';
import { provingSound } from './find-sweep';
import { judgeLine } from './line-proof';
import { makeSweep } from './sweep';

const RATE = 48000;
const sweep = makeSweep(RATE);

/** Three seconds and a half: the proving sound sent after a tenth of a second, what comes back of it, and somebody speaking. */
function recording(backDb: number | null, delayMs: number, speechDb: number | null, seed = 9): Float32Array {
  const out = new Float32Array(3.5 * RATE);
  const at = Math.round((0.1 + delayMs / 1000) * RATE);
  if (backDb !== null) provingSound(sweep).samples.forEach((x, i) => (out[at + i] += dbToGain(backDb) * x));
  if (speechDb !== null) syntheticClip(seed, 3.5).forEach((x, i) => (out[i] += dbToGain(speechDb) * x));
  return out;
}

describe('the proof of a line', () => {
  it.each([[0, 85], [-1, 140], [0, 12]])('calls two ends one cable when what was sent is back at %i dB after %i ms, whoever speaks', (db, ms) => {
    for (const speech of [null, -12]) {
      const proof = judgeLine(recording(db, ms, speech), sweep, 0.1 * RATE);
      expect(proof.kind).toBe('loop');
      if (proof.kind === 'loop') expect(Math.abs(proof.delayMs - ms)).toBeLessThan(1);
    }
  });

  it('tells a far end that sends back from a cable, with how much and how late', () => {
    const proof = judgeLine(recording(-18, 240, null), sweep, 0.1 * RATE);
    expect(proof).toMatchObject({ kind: 'comes-back' });
    if (proof.kind === 'comes-back') expect([Math.round(proof.gainDb), Math.round(proof.delayMs)]).toEqual([-18, 240]);
  });

  it('finds a cable on a machine that begins late and stands still in between', () => {
    const whole = recording(0, 900, null);
    for (const at of [1.3, 1.9, 2.1, 2.6]) {
      const stalled = whole.slice();
      // What came during the stall is lost, and everything after it comes early.
      stalled.set(whole.subarray((at + 0.09) * RATE), at * RATE);
      expect(judgeLine(stalled, sweep, 0.1 * RATE).kind, `stall at ${at} s`).toBe('loop');
    }
  });

  it('hears somebody who answers, and nobody in silence or hum', () => {
    for (let seed = 0; seed < 40; seed++) expect(judgeLine(recording(null, 0, 0, seed), sweep, 0.1 * RATE).kind, `talker ${seed}`).toBe('heard');
    expect(judgeLine(recording(null, 0, null), sweep, 0.1 * RATE).kind).toBe('nothing');
    expect(judgeLine(Float32Array.from({ length: 3 * RATE }, (_, i) => 0.0005 * Math.sin((2 * Math.PI * 50 * i) / RATE)), sweep, 0.1 * RATE).kind).toBe('nothing');
  });
});
