import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { syntheticClip } from '../practice/synthetic-voice';
import { rankInputs } from './find-microphone';

/** Tenths of a second of speech at a level, over the noise of a room. */
function steps(speechDb: number, roomDb: number, seed = 1): number[] {
  const clip = syntheticClip(7, 2.2);
  const random = createRandom(seed);
  const signal = new Float32Array(3 * 48_000);
  const loudest = Math.max(...Array.from({ length: 22 }, (_, k) => clip.subarray(k * 4800, (k + 1) * 4800).reduce((sum, x) => sum + x * x, 0) / 4800));
  const gain = 10 ** (speechDb / 20) / Math.sqrt(loudest);
  clip.forEach((x, i) => (signal[i + 19_200] = gain * x));
  for (let i = 0; i < signal.length; i++) signal[i] += 10 ** (roomDb / 20) * random.normal();
  return Array.from({ length: 30 }, (_, k) => signal.subarray(k * 4800, (k + 1) * 4800).reduce((sum, x) => sum + x * x, 0) / 4800);
}

describe('which microphone hears somebody', () => {
  it('is the one in which their words stand furthest above the room, not the loudest', () => {
    const ranked = rankInputs([
      { key: 'laptop', steps: steps(-24, -40) },
      { key: 'desk', steps: steps(-30, -68) },
      { key: 'camera', steps: steps(-44, -56) },
      { key: 'cable', steps: new Array<number>(30).fill(0) },
    ]);
    expect(ranked.map(({ key, hears }) => [key, hears])).toEqual([['desk', true], ['laptop', true], ['camera', true], ['cable', false]]);
    expect(Math.abs(ranked[0].speechDb! + 31)).toBeLessThan(2);
  });

  it('is the louder one of two that hear the same words without a pause, although the other one was opened late', () => {
    const words = steps(-24, -60).slice(5, 25).map((power) => Math.max(power, 1e-4));
    const camera = words.map((power, k) => (k < 4 ? 0 : 0.0005 * power));
    expect(rankInputs([{ key: 'camera', steps: camera }, { key: 'desk', steps: words }])[0].key).toBe('desk');
  });

  it('is not one that is far quieter, because it caught a quieter moment between the words', () => {
    // Nobody pauses for a tenth of a second in all three: what is quietest is a word's end, as each of them happened to cut it.
    const words = steps(-24, -60).slice(5, 25).map((power) => Math.max(power, 1e-4));
    const quietest = [...words].sort((a, b) => a - b)[3];
    const camera = words.map((power) => 0.0016 * power * (power <= quietest ? 0.4 : 1));
    const ranked = rankInputs([{ key: 'camera', steps: camera }, { key: 'desk', steps: words }]);
    expect(ranked.map(({ aboveRoomDb }) => aboveRoomDb)[1]).toBeGreaterThan(ranked[0].aboveRoomDb + 3);
    expect(ranked[0].key).toBe('desk');
  });

  it('is none where only a room is heard, or nothing was taken', () => {
    const noise = steps(-120, -45);
    expect(rankInputs([{ key: 'room', steps: noise }, { key: 'none', steps: [] }]).some(({ hears }) => hears)).toBe(false);
  });
});
