import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readFileSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wavHeader, WavTooLongError } from './header';
import { createWavReader, WavFormatError } from './reader';
import { decodeIntegers, decodeSamples, encodeSamples, SAMPLE_FORMATS, type SampleFormat } from './sample-format';
import { createWavWriter } from './writer';

const folder = mkdtempSync(join(tmpdir(), 'wav-'));
const STEP: Record<SampleFormat, number> = { pcm16: 2 ** -15, pcm24: 2 ** -23, float32: 2 ** -24 };

const arbitrarySound = fc
  .record({
    format: fc.constantFrom(...SAMPLE_FORMATS),
    channels: fc.constantFrom(1, 2),
    samples: fc.array(fc.float({ min: -1, max: Math.fround(0.999), noNaN: true }), { minLength: 1, maxLength: 400 }),
  })
  .map(({ format, channels, samples }) => ({
    wav: { format, channels, sampleRate: 48000 },
    planar: Array.from({ length: channels }, (_, c) => Float32Array.from(samples, (sample) => (c === 0 ? sample : -sample / 2))),
  }));

function fileOf(wav: { format: SampleFormat; channels: number; sampleRate: number }, planar: Float32Array[], blocks = 1) {
  const path = join(folder, 'sound.wav');
  const file = openSync(path, 'w');
  const writer = createWavWriter(wav, {
    write: (bytes) => writeSync(file, bytes),
    writeAt: (position, bytes) => writeSync(file, bytes, 0, bytes.length, position),
  });
  const frames = planar[0].length;
  const step = Math.ceil(frames / blocks);
  for (let at = 0; at < frames; at += step) {
    writer.write(planar.map((channel) => channel.subarray(at, at + step)), Math.min(step, frames - at));
  }
  writer.close();
  closeSync(file);
  return path;
}

describe('a WAV file', () => {
  it('comes back as it was written, in any format, cut anywhere', () => {
    fc.assert(
      fc.property(arbitrarySound, fc.integer({ min: 1, max: 37 }), ({ wav, planar }, piece) => {
        const bytes = readFileSync(fileOf(wav, planar, 3));
        const reader = createWavReader();
        const read: number[][] = planar.map(() => []);
        for (let at = 0; at < bytes.length; at += piece) {
          reader.push(bytes.subarray(at, at + piece)).forEach((channel, c) => read[c].push(...channel));
        }
        reader.close();
        expect(reader.description()).toEqual(wav);
        planar.forEach((channel, c) => {
          expect(read[c].length).toBe(channel.length);
          const worst = Math.max(...channel.map((sample, i) => Math.abs(read[c][i] - sample)));
          expect(worst).toBeLessThanOrEqual(STEP[wav.format] / 2 + 1e-12);
        });
      }),
      { numRuns: 40 },
    );
  });

  it.each(SAMPLE_FORMATS.flatMap((format) => [[0.5], [0.5, -0.25]].map((levels) => ({ format, levels, channels: levels.length }))))('in $format with $channels channels is read alike by sox, ffmpeg and the sndfile tools', ({ format, levels, channels }) => {
    const planar = levels.map((level) => Float32Array.from({ length: 4801 }, (_, i) => level * Math.sin(i / 30)));
    const path = fileOf({ format, channels, sampleRate: 48000 }, planar, 7);
    const soxRead = execFileSync('sox', [path, '-t', 'raw', '-e', 'floating-point', '-b', '32', '-'], { maxBuffer: 2 ** 26 });
    const ffmpegRead = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'f32le', '-'], { maxBuffer: 2 ** 26 });
    for (const bytes of [soxRead, ffmpegRead]) {
      decodeSamples('float32', channels, bytes).forEach((read, c) => {
        expect(read.length).toBe(4801);
        expect(Math.max(...read.map((sample, i) => Math.abs(sample - planar[c][i])))).toBeLessThan(STEP[format]);
      });
    }
    const info = execFileSync('sndfile-info', [path], { encoding: 'utf8' });
    expect(info).toMatch(/Frames\s*:\s*4801/);
    expect(info).not.toMatch(/warning|error/i);
  });

  it('written by sox is read, extensible format and foreign chunks included', () => {
    const path = join(folder, 'foreign.wav');
    execFileSync('sox', ['-n', '-r', '48000', '-b', '24', '-c', '2', '--comment', 'a note', path, 'synth', '0.1', 'sine', '440', 'gain', '-6']);
    const reader = createWavReader();
    const [left] = reader.push(readFileSync(path));
    reader.close();
    expect(reader.description()).toEqual({ format: 'pcm24', channels: 2, sampleRate: 48000 });
    expect(left.length).toBe(4800);
    expect(Math.max(...left)).toBeCloseTo(0.5, 2);
  });

  it.each(['pcm16', 'pcm24'] as const)('in %s holds full scale at the ends instead of wrapping round', (format) => {
    const loud = Float32Array.of(1, 1.7, -1, -3, 1e9, -Infinity, NaN);
    const most = 1 - STEP[format];
    expect([...decodeSamples(format, 1, encodeSamples(format, [loud], 0, loud.length))[0]]).toEqual([most, most, -1, -1, most, -1, 0]);
  });

  it('that is broken, foreign or too long is refused in words', () => {
    expect(() => createWavReader().push(Buffer.from('not a wave file at all'))).toThrow(WavFormatError);
    const path = join(folder, 'cut.wav');
    writeFileSync(path, Buffer.concat([wavHeader({ format: 'pcm16', channels: 1, sampleRate: 48000 }, 100), Buffer.alloc(50)]));
    const reader = createWavReader();
    reader.push(readFileSync(path));
    expect(() => reader.close()).toThrow('ends before its samples do');
    expect(() => wavHeader({ format: 'float32', channels: 2, sampleRate: 48000 }, 2 ** 30)).toThrow(WavTooLongError);
  });
});

it('whole numbers are the samples as they are stored, whatever the bytes', () => {
  fc.assert(
    fc.property(fc.constantFrom('pcm16', 'pcm24'), fc.constantFrom(1, 2), fc.uint8Array({ maxLength: 200 }), (format, channels, bytes) => {
      const scale = format === 'pcm16' ? 2 ** 15 : 2 ** 23;
      const integers = Array.from({ length: channels }, () => new Int32Array(Math.floor(bytes.length / (channels * (format === 'pcm16' ? 2 : 3)))));
      decodeIntegers(format, bytes, integers);
      expect(integers.map((one) => [...one])).toEqual(decodeSamples(format, channels, bytes).map((one) => [...one.map((x) => x * scale)].map((x) => x + 0)));
    }),
  );
});
