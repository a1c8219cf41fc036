import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { TEST_CALL } from '@/core/session/play-back';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskLines } from '../lines/desk-lines';
import type { LineView } from '../lines/line-view';
import { callAtDesk } from '../testing/call-at-desk';
import { TestCalls } from './test-calls';

/** A desk that plays back: what the audio thread was asked for, and what guests' pages were told. */
function desk() {
  const call = callAtDesk();
  const played: unknown[][] = [];
  const said: { seat: string; state: string }[] = [];
  const audio = { tell: (message: never) => void call.told.push(message), playBack: (...asked: unknown[]) => (played.push(asked), Promise.resolve()) } as unknown as AudioDesk;
  const lines = { check: (seat: string, { state }: { state: string }) => (said.push({ seat, state }), true) } as unknown as DeskLines;
  const calls = new TestCalls({ store: call.store, plan: call.plan, lines, audio: () => (call.audio() ? audio : null) });
  const wait = (state: string) => call.store.setState({ lines: { runa: { state } as LineView } });
  return { ...call, calls, played, said, wait, running: () => call.store.getState().testCall };
}
const WHOLE_MS = 1000 * TEST_CALL.playUntil;

describe('a test call', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('plays what a guest is sent into the host’s phones alone, and is over when it was heard', async () => {
    const { calls, played, running, plan, slotOf } = desk();
    const { listenerIds } = plan.compiled();
    const over = calls.hearWhat('runa');
    expect(played).toEqual([[{ of: 'listener', slot: listenerIds.indexOf('return:runa'), channels: 2 }, { of: 'listener', slot: listenerIds.indexOf('phones:maren') }]]);
    expect(running()).toMatchObject({ seat: 'runa', whose: 'host', intoTheCall: false });
    void calls.hearWhat('priya');
    expect(played.length, 'one at a time').toBe(1);
    await vi.advanceTimersByTimeAsync(WHOLE_MS + 10);
    await over;
    expect([running(), slotOf('voice:runa') >= 0]).toEqual([null, true]);
  });

  it('lets a guest who waits hear themselves, and nobody who is in the call', async () => {
    const { calls, played, said, wait, running } = desk();
    wait('live');
    await calls.hearThemselves('runa');
    expect([played, said]).toEqual([[], [{ seat: 'runa', state: 'not-now' }]]);
    wait('waiting');
    void calls.hearThemselves('runa');
    expect([played.length, said.at(-1), running()?.whose]).toEqual([1, { seat: 'runa', state: 'begun' }, 'guest']);
  });

  it('ends at once when something else needs the probes, and its guest is told', async () => {
    const { calls, said, wait, running, told } = desk();
    wait('waiting');
    const over = calls.hearThemselves('runa');
    await vi.advanceTimersByTimeAsync(1000);
    calls.stop();
    await over;
    expect(told.map(({ type }) => type)).toEqual(['stop-probes', 'capture']);
    expect([said.at(-1), running()]).toEqual([{ seat: 'runa', state: 'not-now' }, null]);
    calls.stop();
    expect(told.length, 'nothing is left to end').toBe(2);
  });
});
