import { afterEach, describe, expect, it, vi } from 'vitest';
import { createStore } from 'zustand/vanilla';
import { deskData } from '../testing/desk-data';
import { initialDeskState } from './initial-desk-state';
import { roomFor, roomInWords, shortOfRoom, watchSpace } from './space';

const MINUTE_OF_FLOATS = 4 * 48000 * 60;

describe('room for a recording', () => {
  it('is as long as the tracks in their format need: floats here, the show’s format at the server', () => {
    const space = { here: 8 * MINUTE_OF_FLOATS * 30, server: 8 * MINUTE_OF_FLOATS * 30 };
    expect(roomFor(space, 8, 3)).toEqual({ here: 30, server: 40 });
    expect(roomFor({ here: null, server: 0 }, 8, 3)).toEqual({ here: null, server: 0 });
  });

  it('is said in hours only where minutes do not matter, and nothing is said of what is not known', () => {
    expect(roomInWords({ here: 58.9, server: 14.2 * 60 })).toBe('14 h on the server; 58 min on this computer, if the server goes away');
    expect(roomInWords({ here: null, server: 119 })).toBe('119 min on the server');
    expect(roomInWords({ here: null, server: null })).toBe('');
  });

  it('is short under an hour at the server, or five minutes here', () => {
    expect(shortOfRoom({ here: 5, server: 60 })).toBe('');
    expect(shortOfRoom({ here: null, server: null })).toBe('');
    expect(shortOfRoom({ here: 3, server: 59.9 })).toBe('room for 59 min on the server');
    expect(shortOfRoom({ here: 4.9, server: null })).toBe('room for 4 min on this computer if the server goes away');
  });
});

describe('the watch over free space', () => {
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('looks again and again, keeps the last answer of a server that is away, and counts no disk that is not the server’s', async () => {
    vi.useFakeTimers();
    const store = createStore(() => initialDeskState(deskData()));
    const answers = [{ freeBytes: 500 }, null, { freeBytes: null }];
    vi.stubGlobal('navigator', { storage: { estimate: () => Promise.resolve({ quota: 1000, usage: 250 }) } });
    vi.stubGlobal('fetch', () => {
      const next = answers.shift();
      return next ? Promise.resolve(Response.json(next)) : Promise.reject(new TypeError('network'));
    });
    const seen: unknown[] = [];
    const end = watchSpace(store);
    for (let look = 0; look < 3; look++) {
      await vi.advanceTimersByTimeAsync(look === 0 ? 10 : 20_000);
      seen.push(store.getState().space);
    }
    end();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(seen).toEqual([
      { here: 750, server: 500 },
      { here: 750, server: 500 },
      { here: 750, server: null },
    ]);
  });
});
