import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import type { TakeMarker } from '@/core/takes/markers';
import { deskData } from '../testing/desk-data';
import { initialDeskState } from './initial-desk-state';
import { TakeMarks } from './take-marks';

describe('marks of a take that runs', () => {
  let [away, gone] = [false, false];
  const kept = new Map<string, string>();
  const stored = new Map<string, TakeMarker>();
  const open = (now: { take: string; sample: number } | null) => {
    const store = createStore(() => initialDeskState(deskData()));
    return { store, marks: new TakeMarks({ store, now: () => now }), first: () => store.getState().marks[0].marker };
  };
  beforeEach(() => {
    vi.useFakeTimers();
    away = gone = false;
    stored.clear();
    kept.clear();
    vi.stubGlobal('localStorage', { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, text: string) => kept.set(key, text), removeItem: (key: string) => kept.delete(key) });
    vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
      if (away) return Promise.reject(new TypeError('network'));
      if (gone) return Promise.resolve(Response.json({ code: 'no-take', message: 'There is no such take.' }, { status: 404 }));
      const marker = JSON.parse(body) as TakeMarker;
      stored.set(marker.id, marker);
      return Promise.resolve(Response.json({}));
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('are a moment, or the last half minute as far as there was one', async () => {
    const { marks } = open({ take: 't', sample: 480_000 });
    marks.mark(false);
    marks.mark(true);
    await vi.advanceTimersByTimeAsync(0);
    expect([...stored.values()].map(({ atSample, lengthSamples, name }) => ({ atSample, lengthSamples, name }))).toEqual([
      { atSample: 480_000, lengthSamples: 0, name: 'Mark 1' },
      { atSample: 0, lengthSamples: 480_000, name: 'The last half minute 2' },
    ]);
  });

  it('reach a server that was away under the name they have by then', async () => {
    const { marks, first } = open({ take: 't', sample: 96_000 });
    away = true;
    marks.mark(false);
    await vi.advanceTimersByTimeAsync(1000);
    marks.rename(first().id, '  The bell ');
    marks.rename(first().id, '   ');
    await vi.advanceTimersByTimeAsync(10_000);
    expect(stored.size).toBe(0);
    away = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect([...stored.values()].map(({ name }) => name)).toEqual(['The bell']);
  });

  it('are sent by the next window where the server was away until this one died', async () => {
    const { marks, store } = open({ take: 't', sample: 96_000 });
    away = true;
    marks.mark(false);
    marks.mark(true);
    await vi.advanceTimersByTimeAsync(1000);
    store.setState({ marks: [] });
    await vi.advanceTimersByTimeAsync(10_000);
    open(null).marks.sendKept();
    away = false;
    await vi.advanceTimersByTimeAsync(4000);
    expect([...stored.values()].map(({ name }) => name)).toEqual(['Mark 1', 'The last half minute 2']);
    expect(kept.size).toBe(0);
  });

  it('are let go of when their take is gone', async () => {
    gone = true;
    open({ take: 't', sample: 96_000 }).marks.mark(false);
    await vi.advanceTimersByTimeAsync(1000);
    expect(kept.size).toBe(0);
  });

  it('are none while nothing is recorded', () => {
    const { marks, store } = open(null);
    marks.mark(false);
    expect(store.getState().marks).toEqual([]);
  });
});
