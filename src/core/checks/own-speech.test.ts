import { expect, it } from 'vitest';
import { ownSpeech } from './own-speech';

const STEP = 4800;
const quiet = 1e-8;
/** A tenth of a second a letter: loud or quiet. */
const steps = (text: string, power: number) => [...text].map((letter) => (letter === '#' ? power : quiet));

it('what others bring into a track is not its owner’s speech, and what the owner says over it is', () => {
  const other = steps('..##########..............##########..', 1e-2);
  // 18 dB down and 230 ms late.
  const track = other.map((_, k) => (other[k - 2] ?? 0) * 10 ** -1.8 + quiet);
  const own = steps('..............########......########..', 1e-2);
  const both = track.map((power, k) => power + (own[k] > quiet ? own[k] : 0));
  const beside = [{ steps: other, gainDb: -18, delayMs: 230 }];
  expect(ownSpeech(track, -80, beside)).toEqual([]);
  expect(ownSpeech(both, -80, beside)).toEqual([[14 * STEP, 36 * STEP]]);
  // Where nobody knows of it, it is taken for speech.
  expect(ownSpeech(track, -80, [])).not.toEqual([]);
});
