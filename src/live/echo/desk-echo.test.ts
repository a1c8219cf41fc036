import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { codingLossDb } from '@/core/echo/echo-level';
import { voiceOf } from '@/core/hearing/ids';
import { withSeats } from '@/core/hearing/seats';
import type { LineReport } from '@/core/lines/line-report';
import type { LineView } from '../lines/line-view';
import { callAtDesk } from '../testing/call-at-desk';
import { FakeWorker } from '../testing/fake-worker';
import type { FromEchoWorker, ToEchoWorker } from './echo-messages';
import { EchoCancels } from './echo-cancels';
import { EchoWatches } from './echo-watches';

const runa = voiceOf('runa');
const found = (levelDb: number | null, delayMs: number): FromEchoWorker => ({ source: runa, reading: { echo: { levelDb, delayMs, certainty: 0.9 } } as never });
const lost: FromEchoWorker = { source: runa, reading: { echo: null } as never };

/** A desk whose call is watched for echoes; the worker that listens is a test's to speak for. */
function watched() {
  const desk = callAtDesk({ call: 'off' });
  new EchoWatches(desk.store, desk.plan, desk.audio);
  const cancels = new EchoCancels(desk.store, desk.plan, desk.audio);
  desk.store.setState({ call: 'running' });
  return { ...desk, cancels, echo: () => desk.store.getState().echoes[runa], heard: () => FakeWorker.last().heard as ToEchoWorker[] };
}

describe('the echo watch of a desk', () => {
  beforeEach(() => {
    vi.useFakeTimers();
    FakeWorker.all = [];
    vi.stubGlobal('Worker', FakeWorker);
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('listens to everybody who talks, by whatever line, with what each is sent', () => {
    const { told, heard, slotOf } = watched();
    expect(heard()[0]).toMatchObject({ type: 'watch', pairs: [{ source: 'voice:maren' }, { source: runa }, { source: 'voice:priya' }] });
    const [capture] = told.filter((message) => message.type === 'capture');
    expect(capture).toMatchObject({ taps: [{ of: 'source', slot: slotOf('voice:maren') }, { of: 'listener' }, { of: 'source', slot: slotOf(runa) }, { of: 'listener' }, { of: 'source', slot: slotOf('voice:priya') }, { of: 'listener' }] });
  });

  it('says how loud it is without what the coder took, since when, and no more once it is gone', () => {
    const { echo, observed } = watched();
    vi.setSystemTime(1_000_000);
    FakeWorker.last().say(found(-24, 180));
    expect(echo()).toMatchObject({ levelDb: -24 + codingLossDb(96), delayMs: 180, sinceMs: 1_000_000 });
    vi.setSystemTime(1_005_000);
    FakeWorker.last().say(found(-20, 181));
    expect([echo().sinceMs, echo().history.length, observed().length]).toEqual([1_000_000, 2, 1]);
    FakeWorker.last().say(lost);
    expect([echo(), observed()]).toEqual([undefined, []]);
    // The same echo once more goes on with its own chart.
    vi.setSystemTime(1_010_000);
    FakeWorker.last().say(found(-21, 180));
    expect([echo().sinceMs, echo().history.length]).toEqual([1_010_000, 3]);
  });

  it('does not tell the audit every half decibel, and tells it a louder one', () => {
    const { observed } = watched();
    const gain = () => observed().flatMap((one) => (one.of === 'coupling' ? [one.coupling.gainDb] : []));
    FakeWorker.last().say(found(-24, 180));
    const [first] = gain();
    FakeWorker.last().say(found(-23.5, 182));
    expect(gain()).toEqual([first]);
    FakeWorker.last().say(found(-20, 182));
    expect(gain()).toEqual([first! + 4]);
  });

  it('is told when a line’s own way changes, so that nobody in the same room is taken for an echo', () => {
    const { store, heard } = watched();
    const report = { toDesk: { delayMs: 60 }, toGuest: { delayMs: 90 } } as LineReport;
    store.setState({ lines: { runa: { report } as LineView } });
    expect(heard().at(-1)).toEqual({ type: 'least', pairs: [{ source: 'voice:maren', leastMs: null }, { source: runa, leastMs: 135 }, { source: 'voice:priya', leastMs: null }] });
    const so = heard().length;
    store.setState({ lines: { runa: { report: { ...report, toDesk: { delayMs: 61 } } } as LineView } });
    expect(heard().length).toBe(so);
  });

  it('begins anew when somebody leaves, and listens to nobody after the call', () => {
    const { store, told, echo } = watched();
    FakeWorker.last().say(found(-24, 180));
    const { plan, seats } = store.getState();
    const stay = seats.filter(({ id }) => id !== 'priya');
    store.setState({ plan: withSeats(plan, stay), seats: stay });
    expect([FakeWorker.all.length, FakeWorker.all[0].terminated, echo()]).toEqual([2, true, undefined]);
    expect(FakeWorker.last().heard[0]).toMatchObject({ pairs: [{ source: 'voice:maren' }, { source: runa }] });
    store.setState({ call: 'off' });
    expect([FakeWorker.last().terminated, store.getState().echoes]).toEqual([true, {}]);
    expect(told.filter((message) => message.type === 'capture').length).toBeGreaterThan(0);
  });
});

describe('an echo that is cancelled at the desk', () => {
  beforeEach(() => {
    FakeWorker.all = [];
    vi.stubGlobal('Worker', FakeWorker);
  });
  afterEach(() => void vi.unstubAllGlobals());

  it('is cancelled from where the watch found it, is told of a jump and not of a small move, and until it is let be', () => {
    const { cancels, told, store, slotOf } = watched();
    const cancelled = () => told.flatMap((message) => (message.type === 'cancel' ? [{ source: message.source, delayMs: message.echo?.delayMs ?? null }] : []));
    cancels.start(runa);
    expect([cancelled(), store.getState().cancelling], 'there is none yet').toEqual([[], []]);
    FakeWorker.last().say(found(-24, 180));
    cancels.start(runa);
    expect([cancelled(), store.getState().cancelling]).toEqual([[{ source: slotOf(runa), delayMs: 180 }], [runa]]);
    FakeWorker.last().say(found(-24, 184));
    FakeWorker.last().say(found(-24, 240));
    expect(cancelled().slice(1)).toEqual([{ source: slotOf(runa), delayMs: 240 }]);
    cancels.stop(runa);
    FakeWorker.last().say(found(-24, 300));
    expect([cancelled().slice(2), store.getState().cancelling]).toEqual([[{ source: slotOf(runa), delayMs: null }], []]);
  });

  it('is forgotten with whoever leaves, and with the call', () => {
    const { cancels, store } = watched();
    FakeWorker.last().say(found(-24, 180));
    cancels.start(runa);
    const { plan, seats } = store.getState();
    const stay = seats.filter(({ id }) => id !== 'runa');
    store.setState({ plan: withSeats(plan, stay), seats: stay });
    expect(store.getState().cancelling).toEqual([]);
    store.setState({ cancelling: [runa] });
    store.setState({ call: 'off' });
    expect(store.getState().cancelling).toEqual([]);
  });
});
