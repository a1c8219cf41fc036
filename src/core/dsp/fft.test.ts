import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { correlate, createFft } from './fft';
import { createRealFft } from './real-fft';

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
  it('of a real signal is the same in half the work, and is undone by its inverse', () => {
    const random = createRandom(3);
    for (const size of [4, 64, 1024]) {
      const given = Float64Array.from({ length: size }, () => random.normal());
      const [re, im] = [given.slice(), new Float64Array(size)];
      createFft(size).forward(re, im);
      const real = createRealFft(size);
      const bins = { re: new Float64Array(size / 2 + 1), im: new Float64Array(size / 2 + 1) };
      real.forward(given, bins.re, bins.im);
      expect(Math.max(...bins.re.map((x, k) => Math.hypot(x - re[k], bins.im[k] - im[k])))).toBeLessThan(1e-10);
      const back = new Float64Array(size);
      real.inverse(bins.re, bins.im, back);
      expect(Math.max(...back.map((x, n) => Math.abs(x - given[n])))).toBeLessThan(1e-12);
    }
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
