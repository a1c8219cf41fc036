import { describe, expect, it } from 'vitest';
import type { TakeTrack } from '../session/take-data';
import { simulateTake } from '../practice/take-with-bleed';
import { findingsOf } from './findings';
import type { TakeCheck, TrackIsolation } from './take-check';
import { createTrackChecker, type TrackCheck } from './track-check';

const RATE = 48000;

function check(samples: Float32Array): TrackCheck {
  const checker = createTrackChecker(1);
  // Pieces of any length measure the same.
  for (let at = 0; at < samples.length; at += 77_777) checker.push([samples.subarray(at, at + 77_777)]);
  return checker.result();
}

const tone = (seconds: number, hz: number, amplitude: number) => Float32Array.from({ length: seconds * RATE }, (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / RATE));

describe('what is measured of a track', () => {
  it('finds where it was cut off at full scale, and not single samples', () => {
    const samples = tone(3, 440, 0.5);
    samples.fill(1, 48_000, 48_010);
    samples.fill(-1, 96_000, 96_004);
    samples[120_000] = 1;
    expect(check(samples)).toMatchObject({ clippedRuns: 2, clipped: [{ atSample: 48_000, lengthSamples: 10 }, { atSample: 96_000, lengthSamples: 4 }], peakDb: 0 });
  });

  it('tells hum from speech and reads its level within 1 dB', () => {
    const { tracks } = simulateTake({ people: 2, seconds: 20, seed: 4, bleed: [], noiseDb: -80 });
    const [voice] = tracks;
    expect(check(voice).hum).toBeNull();
    const hum = tone(20, 50, 10 ** (-50 / 20) * Math.SQRT2);
    const found = check(voice.map((sample, i) => sample + hum[i])).hum;
    expect(found?.hz).toBe(50);
    expect(Math.abs(found!.db + 50)).toBeLessThan(1);
  });

  it('reads the noise of the room within 1 dB, the share of speech and the offset', () => {
    const { tracks, clean } = simulateTake({ people: 2, seconds: 30, seed: 6, bleed: [], noiseDb: -62 });
    const measured = check(tracks[0].map((sample) => sample + 0.01));
    expect(Math.abs(check(tracks[0]).noiseFloorDb! + 62)).toBeLessThan(1);
    expect(measured.dc - check(tracks[0]).dc).toBeCloseTo(0.01, 6);
    const truth = clean[0].filter((sample) => Math.abs(sample) > 1e-4).length / clean[0].length;
    expect(Math.abs(check(tracks[0]).speechShare - truth)).toBeLessThan(0.15);
  });

  it('of silence is nothing', () => {
    expect(check(new Float32Array(RATE))).toMatchObject({ peakDb: null, truePeakDb: null, integratedLufs: null, noiseFloorDb: null, hum: null, speechShare: 0, clippedRuns: 0 });
  });
});

const track = (id: string, name: string): TakeTrack => ({ id, name, kind: 'voice', channels: 1, format: 'pcm24', peakDb: -3, rmsDb: -20, derivedFrom: null, made: null });
const whole = { ...check(tone(4, 300, 0.05)), noiseFloorDb: -70, storedSamples: 100 };
const pair = (source: string, target: string, gainDb: number, delayMs: number): TrackIsolation => ({ source, target, verdict: 'bleeds', gainDb, delayMs, atSample: 9 });

describe('findings in words', () => {
  const tracks = [track('m', 'Maren'), track('t', 'Tomasz'), track('o', 'Odalys')];
  const words = (isolation: TrackIsolation[], measured: Partial<TakeCheck['tracks'][number]>[] = [], gaps: Parameters<typeof findingsOf>[0]['gaps'] = []) =>
    findingsOf({ tracks, lengthSamples: 100, gaps }, { isolation, tracks: measured.map((one, k) => ({ ...whole, track: tracks[k].id, ...one })) });

  it('says what came the same way once, with its place, and nothing of what nobody hears', () => {
    const found = words([pair('m', 't', -31, 240), pair('o', 't', -35, 242), pair('t', 'm', -70, 240)]);
    expect(found).toMatchObject([{ severity: 'notice', track: 't', atSample: 9, repairable: true }]);
    expect(found[0].words).toBe('Tomasz’s track contains Maren 31 dB and Odalys 35 dB down, 240 ms late: so late, most likely Tomasz’s loudspeakers or open headphones bring it back.');
    // Soon and early are not the same.
    expect(words([pair('m', 't', -31, 3)])[0].words).toContain('3 ms late: so soon, most likely one microphone hears both.');
    expect(words([pair('m', 't', -31, -180)])[0].words).toContain('180 ms early: before it is on their own track');
  });

  it('says nothing of who was never in the call', () => {
    const away = [{ track: 'o', atSample: 0, lengthSamples: 100, cause: 'not-in-call' }] as const;
    const silent = [{}, {}, { ...check(new Float32Array(RATE)), storedSamples: 0 }];
    expect(words([pair('o', 't', -12, 3)], silent).length).toBeGreaterThan(1);
    expect(words([pair('o', 't', -12, 3)], silent, [...away])).toEqual([]);
  });

  it('puts faults first and is silent on a good take', () => {
    expect(words([], [{}, {}])).toEqual([]);
    const found = words([pair('m', 't', -12, 3)], [{ storedSamples: 40 }, { clippedRuns: 1, clipped: [{ atSample: 7, lengthSamples: 5 }] }]);
    expect(found.map(({ severity }) => severity)).toEqual(['fault', 'fault', 'notice']);
    expect(found.at(-1)).toMatchObject({ words: 'Tomasz was too loud once: the sound is cut off at full scale.', atSample: 7 });
  });
});
