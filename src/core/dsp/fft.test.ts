import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { correlate, createFft } from './fft';

describe('the FFT', () => {
  it('agrees with the sum it stands for, and is undone by its inverse', () => {
    const random = createRandom(1);
    const size = 64;
    const given = Float64Array.from({ length: size }, () => random.normal());
    const re = given.slice();
    const im = new Float64Array(size);
    const fft = createFft(size);
    fft.forward(re, im);
    for (let k = 0; k < size; k++) {
      const sum = [0, 0];
      given.forEach((x, n) => {
        sum[0] += x * Math.cos((2 * Math.PI * k * n) / size);
        sum[1] -= x * Math.sin((2 * Math.PI * k * n) / size);
      });
      expect(Math.hypot(re[k] - sum[0], im[k] - sum[1])).toBeLessThan(1e-10);
    }
    fft.inverse(re, im);
    expect(Math.max(...re.map((x, n) => Math.abs(x - given[n])))).toBeLessThan(1e-12);
  });
  it('correlates as the plain sum does', () => {
    const random = createRandom(2);
    const signal = Float32Array.from({ length: 300 }, () => random.normal());
    const pattern = signal.slice(40, 140);
    const result = correlate(signal, pattern, 200);
    for (const lag of [0, 40, 199]) {
      const plain = pattern.reduce((sum, x, i) => sum + x * signal[lag + i], 0);
      expect(result[lag]).toBeCloseTo(plain, 4);
    }
    expect(result.indexOf(Math.max(...result))).toBe(40);
  });
  it('refuses a size it cannot do', () => expect(() => createFft(48)).toThrow(RangeError));
});
