import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CHUNK_FRAMES } from './chunks';
import { createChunker } from './chunker';
import { distinctNames, FILE_NAME_FIELDS, fileNameTemplateSchema, takeFileName, trackFileName } from './file-name';
import { PEAK_FRAMES, summarise, thinPeaks } from './peaks';

describe('the chunker', () => {
  it('keeps every sample in its exact place and fills what was lost with listed silence', () => {
    const block = 12_800;
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 1, maxLength: 40 }), fc.nat({ max: 1_000_000 }), (arrives, clock) => {
        const tracks = [[new Float32Array(0)], [new Float32Array(0), new Float32Array(0)]].map((channels) => channels.map(() => [] as number[]));
        const chunker = createChunker([1, 2], (track, index, channels, frames) => {
          channels.forEach((channel, c) => {
            expect(tracks[track][c].length).toBe(index * CHUNK_FRAMES);
            for (let i = 0; i < frames; i++) tracks[track][c].push(channel[i]);
          });
        });
        // The value of a sample says which block and channel it came from.
        const present = [true, ...arrives];
        present.forEach((here, k) => {
          if (!here) return;
          const sound = Float32Array.from({ length: 3 * block }, (_, i) => k + 1 + Math.floor(i / block) / 4);
          chunker.push(clock + k * block, sound, block);
        });
        const length = chunker.finish();
        const last = present.lastIndexOf(true);
        expect(length).toBe((last + 1) * block);
        expect(chunker.clockAtStart()).toBe(clock);
        const channels = [tracks[0][0], tracks[1][0], tracks[1][1]];
        channels.forEach((samples, c) => {
          expect(samples.length).toBe(length);
          for (let k = 0; k <= last; k++) {
            const expected = present[k] ? k + 1 + c / 4 : 0;
            expect([samples[k * block], samples[(k + 1) * block - 1]]).toEqual([expected, expected]);
          }
        });
        const lost = chunker.losses().reduce((sum, { lengthSamples }) => sum + lengthSamples, 0);
        expect(lost).toBe(present.slice(0, last + 1).filter((here) => !here).length * block);
      }),
      { numRuns: 25 },
    );
  });
});

describe('an outline', () => {
  it('holds the true extremes of its samples, however it is thinned', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 3000 }), fc.integer({ min: 1, max: 20 }), (samples, columns) => {
        const sound = Float32Array.from(samples);
        const { peaks, peak, sumOfSquares } = summarise([sound]);
        expect(peaks.length).toBe(2 * Math.ceil(samples.length / PEAK_FRAMES));
        expect(peak).toBeCloseTo(Math.max(...sound.map(Math.abs)), 6);
        expect(sumOfSquares).toBeCloseTo(sound.reduce((sum, x) => sum + x * x, 0), 3);
        const thin = thinPeaks(peaks, columns);
        expect(Math.max(...thin)).toBeCloseTo(Math.round(Math.max(...sound) * 32767));
        expect(Math.min(...thin)).toBeCloseTo(Math.round(Math.min(...sound) * 32767));
      }),
    );
  });
});

describe('a file name', () => {
  const naming = { show: 'Ferry Weather', episode: 14, take: 2, date: '2026-11-23', place: 3, name: 'Tomasz Wierzba', kind: 'voice' };
  it('says show, episode, date, take, track and person', () => {
    expect(trackFileName(naming)).toBe('Ferry-Weather_E14_2026-11-23_take-2_03_Tomasz-Wierzba_voice');
    expect(takeFileName(naming)).toBe('Ferry-Weather_E14_2026-11-23_take-2');
    expect(trackFileName({ ...naming, name: 'Zoë O’Shea' })).toContain('_Zoe-OShea_');
  });
  it('is one of its own for every track of a take, however long show, people and template are', () => {
    const field = fc.constantFrom(...Object.keys(FILE_NAME_FIELDS).map((name) => `{${name}}`), 'a-word-of-the-template', '_');
    const template = fc.array(field, { maxLength: 9 }).map((parts) => fileNameTemplateSchema.safeParse(['{place}', ...parts].reverse().join('')));
    fc.assert(
      fc.property(template, fc.string({ maxLength: 300 }), fc.array(fc.string({ maxLength: 120 }), { minLength: 2, maxLength: 40 }), (parsed, show, people) => {
        fc.pre(parsed.success);
        const names = people.map((name, k) => trackFileName({ ...naming, show, name, place: k + 1 }, parsed.data));
        for (const name of names) expect(name.length).toBeLessThanOrEqual(200);
        expect(new Set(distinctNames(names)).size).toBe(people.length);
      }),
    );
    const long = { ...naming, show: 'S'.repeat(90), name: 'N'.repeat(90) };
    const wordy = `{show}_${'x'.repeat(60)}_{person}_{kind}_{show}_{place}`;
    expect(trackFileName({ ...long, place: 7 }, wordy)).toMatch(/_07$/);
  });

  it('takes only fields there are, whatever else every object has', () => {
    expect(fileNameTemplateSchema.safeParse('{place}_{constructor}').success).toBe(false);
    expect(trackFileName(naming, '{place}_{constructor}')).toBe('03_');
  });

  it('cannot leave its folder, whatever people are called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (show, name) => {
        const file = trackFileName({ ...naming, show, name });
        expect(file).toMatch(/^[A-Za-z0-9_-]+$/);
        expect(file.length).toBeLessThan(200);
      }),
    );
  });
});
