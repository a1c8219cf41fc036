import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { encodeSamples } from '../formats/wav/sample-format';
import { wavHeader } from '../formats/wav/header';
import { gainToDb } from '../dsp/decibels';
import { syntheticClip } from '../practice/synthetic-voice';
import { createRandom } from '../random';
import { kWeighting } from './k-weighting';
import { createLoudnessMeasure } from './loudness';
import { createTruePeakMeasure } from './true-peak';

const folder = mkdtempSync(join(tmpdir(), 'loudness-'));
afterAll(() => rmSync(folder, { recursive: true }));

const RATE = 48000;
const sine = (hz: number, db: number, seconds: number, rate = RATE) =>
  Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => 10 ** (db / 20) * Math.sin((2 * Math.PI * hz * i) / rate));

function measure(channels: Float32Array[], rate = RATE) {
  const loudness = createLoudnessMeasure(rate, channels.length);
  const peaks = channels.map(() => createTruePeakMeasure());
  // In pieces of uneven length: where a piece ends must not matter.
  for (let from = 0, length = 1000; from < channels[0].length; from += length, length = 1000 + ((length * 7) % 5003)) {
    const piece = channels.map((samples) => samples.subarray(from, from + length));
    loudness.push(piece);
    piece.forEach((samples, k) => peaks[k].push(samples));
  }
  return { ...loudness.result(), truePeak: gainToDb(Math.max(...peaks.map((one) => one.result()))) };
}

describe('loudness', () => {
  it('has the standard’s coefficients at 48 kHz', () => {
    const [shelf, highPass] = kWeighting(48000);
    expect(shelf.b0).toBeCloseTo(1.53512485958697, 8);
    expect(shelf.a2).toBeCloseTo(0.73248077421585, 8);
    expect(highPass.a1).toBeCloseTo(-1.99004745483398, 8);
    expect(highPass.a2).toBeCloseTo(0.99007225036621, 8);
  });

  it('reads a 997 Hz sine at 0 dBFS in one channel as −3.01 LUFS', () => {
    expect(measure([sine(997, 0, 5)]).integrated).toBeCloseTo(-3.01, 1);
    expect(measure([sine(997, -20, 5), sine(997, -20, 5)]).integrated).toBeCloseTo(-20, 1);
    expect(measure([sine(997, -20, 5, 44100)], 44100).integrated).toBeCloseTo(-23.01, 1);
  });

  it('leaves silence and what is far below the rest out of the integrated value', () => {
    const loud = sine(997, -20, 5);
    const gap = new Float32Array(10 * RATE);
    const joined = new Float32Array([...loud, ...gap, ...loud]);
    expect(measure([joined]).integrated).toBeCloseTo(measure([loud]).integrated, 0);
    expect(measure([new Float32Array(RATE)]).integrated).toBe(-Infinity);
  });

  it('has a range of the distance between two levels', () => {
    const steps = new Float32Array([...sine(997, -20, 20), ...sine(997, -30, 20)]);
    expect(measure([steps]).range).toBeCloseTo(10, 0);
  });
});

describe('the true peak', () => {
  it('finds what lies between samples: a quarter of the rate, an eighth of a turn on', () => {
    const between = Float32Array.from({ length: RATE }, (_, i) => 0.5 * Math.sin((Math.PI / 2) * i + Math.PI / 4));
    // Away from the ends, where the sudden beginning overshoots.
    const measured = createTruePeakMeasure();
    const faded = between.map((x, i) => x * Math.min(1, i / 4800, (RATE - i) / 4800));
    measured.push(faded);
    expect(gainToDb(measured.result())).toBeCloseTo(gainToDb(0.5), 1);
    expect(Math.max(...faded)).toBeLessThan(0.36);
  });
});

describe('beside ffmpeg’s ebur128', () => {
  const random = createRandom(9);
  const noise = (db: number, seconds: number) => Float32Array.from({ length: seconds * RATE }, (_, i) => 10 ** (db / 20) * random.normal() * (0.4 + 0.6 * Math.abs(Math.sin(i / 9000))));
  it.each([
    ['a tone', [sine(440, -14, 6)]],
    ['noise in stereo', [noise(-24, 8), noise(-28, 8)]],
    ['speech-like noise', [noise(-30, 12)]],
    ['a low tone', [sine(63, -9, 6)]],
    ['a high tone', [sine(9700, -20, 6).map((x, i, all) => x * Math.min(1, i / 4800, (all.length - i) / 4800))]],
    ['a tone near full scale', [sine(4410, -0.5, 6)]],
    ['talkers', [syntheticClip(1, 14)]],
    ['other talkers', [syntheticClip(2, 9), syntheticClip(3, 9)]],
    ['a quiet talker', [syntheticClip(4, 15).map((x) => x / 20)]],
    ['a loud beginning', [noise(-18, 10).map((x, i) => (i < RATE * 3 ? x : x / 12))]],
  ])('%s is within 0.1 LU and 0.2 dB', (_, channels) => {
    const text = execFileSync('sh', ['-c', `ffmpeg -hide_banner -nostats -i ${write(channels)} -af ebur128=peak=true -f null - 2>&1`], { encoding: 'utf8' });
    const summary = text.slice(text.lastIndexOf('Summary:'));
    const number = (pattern: RegExp) => Number(pattern.exec(summary)![1]);
    const ours = measure(channels);
    // A mono file is played by both loudspeakers in ffmpeg's reckoning when it says so; here each channel counts once.
    expect(Math.abs(ours.integrated - number(/I:\s+(-?[\d.]+) LUFS/))).toBeLessThan(0.1);
    expect(Math.abs(ours.truePeak - number(/Peak:\s+(-?[\d.]+) dBFS/))).toBeLessThan(0.2);
  });

  function write(channels: Float32Array[]): string {
    const path = join(folder, `${channels.length}-${channels[0].length}.wav`);
    writeFileSync(path, Buffer.concat([wavHeader({ format: 'float32', channels: channels.length, sampleRate: RATE }, channels[0].length), encodeSamples('float32', channels, 0, channels[0].length)]));
    return path;
  }
});
