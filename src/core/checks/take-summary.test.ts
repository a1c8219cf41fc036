import { describe, expect, it } from 'vitest';
import type { TakeTrack } from '../session/take-data';
import type { TakeCheck } from './take-check';
import { createTrackChecker } from './track-check';
import { summaryOf } from './take-summary';

const SECOND = 48000;
const LENGTH = 60 * SECOND;
const voice = (id: string): TakeTrack => ({ id, kind: 'voice', name: id, channels: 1, format: 'pcm24', peakDb: null, rmsDb: null, derivedFrom: null, made: null });
const take = { state: 'sealed' as const, lengthSamples: LENGTH, gaps: [], homes: [], tracks: [voice('Maren'), voice('Odalys'), { ...voice('Bell'), kind: 'sounds' as const }] };
const nothing = createTrackChecker(1).result();
const check = (shares: Record<string, number>, more: Partial<TakeCheck> = {}): TakeCheck => ({
  tracks: Object.entries(shares).map(([track, speechShare]) => ({ ...nothing, track, storedSamples: LENGTH, lengthSamples: LENGTH, speechShare, peakDb: -6, integratedLufs: -20 })),
  isolation: [],
  ...more,
});
const bleed = (gainDb: number) => ({ isolation: [{ source: 'Maren', target: 'Odalys', verdict: 'bleeds' as const, gainDb, delayMs: 240, atSample: 0 }] });

describe('a take in a few words', () => {
  it('says whose voices are on it and how much of the talk was theirs, and nobody who was never there', () => {
    const gaps = [{ track: 'Odalys', atSample: 0, lengthSamples: LENGTH, cause: 'not-in-call' as const }];
    expect(summaryOf(take, null).people).toEqual([{ name: 'Maren', share: null }, { name: 'Odalys', share: null }]);
    expect(summaryOf(take, check({ Maren: 0.2, Odalys: 0.6, Bell: 0.9 })).people.map(({ share }) => share!.toFixed(2))).toEqual(['0.25', '0.75']);
    expect(summaryOf({ ...take, gaps }, check({ Maren: 0.2, Odalys: 0 })).people).toEqual([{ name: 'Maren', share: 1 }]);
    expect(summaryOf(take, check({ Maren: 0, Odalys: 0 })).people.every(({ share }) => share === null)).toBe(true);
  });

  it('says the worst that was found, and how much else', () => {
    const quiet = check({ Maren: 0.3, Odalys: 0.3 });
    expect(summaryOf(take, quiet)).toMatchObject({ verdict: 'good', more: 0 });
    expect(summaryOf(take, null).verdict).toBe('unchecked');
    expect(summaryOf(take, { ...quiet, ...bleed(-40) })).toMatchObject({ verdict: 'notice', words: expect.stringContaining('Maren 40 dB down') as string });
    const both = { ...quiet, ...bleed(-20), tracks: quiet.tracks.map((one) => ({ ...one, dc: 0.02 })) };
    expect(summaryOf(take, both)).toMatchObject({ verdict: 'fault', more: 2 });
    expect(summaryOf({ ...take, state: 'recording' }, null).verdict).toBe('open');
  });

  it('says lost sound also where nothing was checked, and never a late arrival', () => {
    const gap = (cause: 'ring-overrun' | 'not-in-call') => [{ track: 'Maren', atSample: SECOND, lengthSamples: SECOND, cause }];
    expect(summaryOf({ ...take, gaps: gap('ring-overrun') }, null)).toMatchObject({ verdict: 'notice', words: expect.stringContaining('lost on one track') as string });
    expect(summaryOf({ ...take, gaps: gap('not-in-call') }, check({ Maren: 0.3, Odalys: 0.3 })).verdict).toBe('good');
  });

  it('counts the home recordings that are here whole', () => {
    const home = (id: string, complete: boolean) => ({ id, seat: id, track: id, keptSamples: 1, arrivedSamples: 1, complete, sending: false });
    expect(summaryOf({ ...take, homes: [home('a', true), home('b', false)] }, null).homes).toEqual({ all: 2, here: 1 });
  });
});
