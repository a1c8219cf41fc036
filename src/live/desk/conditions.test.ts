import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { keptConditions } from '../testing/kept-conditions';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

it('the same again is said once, in its newest words and its old place; what is over is gone', () => {
  const { conditions, said } = keptConditions();
  conditions.begin('title', 'The title was not sent. A.');
  conditions.begin('key', 'The key was not kept.');
  conditions.begin('title', 'The title was not sent. B.');
  expect(said()).toEqual(['The title was not sent. B.', 'The key was not kept.']);
  conditions.end('title');
  conditions.end('nothing');
  expect(said()).toEqual(['The key was not kept.']);
});

it('news take the place of what they end and go by themselves, but not with what comes after them', () => {
  const { conditions, said } = keptConditions();
  conditions.begin('microphone', 'Your microphone went away.');
  conditions.news('microphone', 'Your microphone is back.');
  expect(said()).toEqual(['Your microphone is back.']);
  vi.advanceTimersByTime(30_000);
  conditions.begin('microphone', 'Your microphone went away.');
  vi.advanceTimersByTime(600_000);
  expect(said()).toEqual(['Your microphone went away.']);
  conditions.news('microphone', 'Your microphone is back.');
  vi.advanceTimersByTime(60_000);
  expect(said()).toEqual([]);
});
