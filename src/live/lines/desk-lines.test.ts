import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { phonesOf, returnOf, type ListenerId } from '@/core/hearing/ids';
import type { BoxMessage, GuestPhase } from '@/core/lines/messages';
import type { DeskState, RecordingState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import { deskData } from '../testing/desk-data';
import { FakePeerLine } from '../testing/fake-peer-line';
import { DeskLines } from './desk-lines';
import type { LineAudio } from './line-audio';

vi.mock('./peer-line', async () => ({ PeerLine: (await import('../testing/fake-peer-line')).FakePeerLine }));

const PAGE = '3f2d9a52-6f0d-4d0e-9c7a-1a2b3c4d5e6f';
const OTHER_PAGE = '9b1deb4d-3b7d-4bad-9bdd-2b0d7b3dcb6d';

describe('the links of a desk', () => {
  let store: StoreApi<DeskState>;
  let lines: DeskLines;
  let callRuns: boolean;
  const opened: string[][] = [];
  const sent: { seat: string; type: string }[] = [];
  const media: [string, boolean, number][] = [];
  const talks: [string, ListenerId[]][] = [];
  const peer = () => FakePeerLine.newest;

  beforeEach(() => {
    vi.useFakeTimers();
    FakePeerLine.all = [];
    opened.length = sent.length = media.length = talks.length = 0;
    callRuns = true;
    const data = deskData();
    store = createStore(() => initialDeskState({ ...data, plan: { ...data.plan, waiting: ['runa'] } }));
    lines = new DeskLines({
      store,
      openAudio: (source, listener) => {
        if (callRuns) opened.push([source, listener]);
        return callRuns ? ({ track: {}, receive: () => undefined, close: () => undefined } as unknown as LineAudio) : null;
      },
      send: (seat, body) => sent.push({ seat, type: (body as { type: string }).type }),
      onMedia: (seat, flowing, agoMs) => media.push([seat, flowing, Math.round(agoMs)]),
      publish: (views) => store.setState({ lines: views }),
      onReport: () => undefined,
      onChecked: () => undefined,
      onTalk: (seat, to) => talks.push([seat, to]),
    });
    lines.open({ windows: [{ seat: 'runa', window: 'w' }, { seat: 'wen', window: 'v' }], iceServers: [] });
  });
  afterEach(() => {
    lines.close();
    vi.useRealTimers();
  });

  const status = (seat: string, phase: GuestPhase = 'ready', page = PAGE) =>
    lines.take({ id: 1, sender: seat, body: { type: 'status', page, phase, name: seat, muted: false, microphone: null, echoDb: null, echoDelayMs: null, tested: false, echoCancellation: false, network: null } } as BoxMessage);
  const state = async (seat: string) => {
    await vi.advanceTimersByTimeAsync(0);
    return store.getState().lines[seat].state;
  };
  const admit = (waiting: string[]) => {
    store.setState(({ plan }) => ({ plan: { ...plan, waiting } }));
    lines.sceneChanged();
  };
  /** Sound arrives for so many seconds. */
  const flow = async (of: FakePeerLine, seconds: number) => {
    for (let second = 0; second < seconds; second++) {
      of.lastPacketAt = FakePeerLine.now() + 990;
      await vi.advanceTimersByTimeAsync(1000);
    }
  };

  it('asks everybody who is there how far they are, and connects who is ready: once for a page', async () => {
    expect(sent).toEqual([{ seat: 'runa', type: 'desk-here' }, { seat: 'wen', type: 'desk-here' }]);
    status('runa', 'checking');
    expect([await state('runa'), FakePeerLine.all.length]).toEqual(['checking', 0]);
    status('runa');
    status('runa');
    expect([await state('runa'), FakePeerLine.all.length]).toEqual(['waiting', 1]);
    const before = peer();
    status('runa', 'ready', OTHER_PAGE);
    expect([FakePeerLine.all.length, before.closed]).toEqual([2, true]);
    status('runa', 'left', OTHER_PAGE);
    expect([await state('runa'), peer().closed]).toEqual(['left', true]);
  });

  it('connects nobody before the call runs, and everybody who is ready when it begins', () => {
    callRuns = false;
    status('runa');
    expect(FakePeerLine.all.length).toBe(0);
    callRuns = true;
    lines.connect();
    expect(FakePeerLine.all.length).toBe(1);
    lines.hangUp();
    expect([peer().closed, sent.at(-1)]).toEqual([true, { seat: 'runa', type: 'hung-up' }]);
  });

  it('tells who waits nothing of the show, and who is let in what they need', () => {
    status('runa');
    const recording = { phase: 'recording', take: 't1', recorded: ['voice:runa'] } as RecordingState;
    store.setState({ recording });
    lines.sceneChanged();
    expect(peer().said.at(-1)).toMatchObject({ admitted: false, people: [], take: null });
    admit([]);
    expect(peer().said.at(-1)).toMatchObject({ admitted: true, people: ['maren', 'runa', 'priya'], take: 't1', talkTargets: [] });
    // Whose voice has no track records nothing at home; nor does anybody while the take is paused.
    store.setState({ recording: { ...recording, recorded: ['voice:maren'] } });
    lines.sceneChanged();
    expect(peer().said.at(-1)).toMatchObject({ recording: false, recordingOthers: true, take: null });
    store.setState({ recording: { ...recording, phase: 'paused' } });
    lines.sceneChanged();
    expect(peer().said.at(-1)).toMatchObject({ recording: false, take: null });
  });

  it('notices within two seconds that sound has stopped, and says when', async () => {
    admit([]);
    status('runa');
    peer().become('connected');
    await flow(peer(), 3);
    expect([await state('runa'), media]).toEqual(['live', [['runa', true, expect.any(Number) as number]]]);
    await vi.advanceTimersByTimeAsync(2000);
    expect(await state('runa')).toBe('lost');
    const [seat, flowing, agoMs] = media[1];
    expect([seat, flowing]).toEqual(['runa', false]);
    expect(agoMs).toBeGreaterThanOrEqual(1200);
    expect(agoMs).toBeLessThan(2200);
    await flow(peer(), 2);
    expect(await state('runa')).toBe('back');
    await flow(peer(), 11);
    expect(await state('runa')).toBe('live');
  });

  it('says which links broke off since a moment, and which way', async () => {
    admit([]);
    status('runa');
    peer().become('connected');
    await flow(peer(), 3);
    const told = (concealedMs: number) => peer().options.onSaid(JSON.stringify({ type: 'report', report: { delayMs: 60, bufferMs: 40, lossShare: 0, jitterMs: 2, concealedMs, kbps: 64 }, muted: false }));
    const begun = Date.now();
    peer().concealedMs += 30;
    told(30);
    await flow(peer(), 2);
    expect(lines.breaks(begun), 'a packet late, as happens').toEqual([]);
    peer().concealedMs += 90;
    await flow(peer(), 2);
    expect(lines.breaks(begun)).toEqual(['voice:runa']);
    told(90);
    await flow(peer(), 2);
    expect(lines.breaks(begun)).toEqual(['voice:runa', 'return:runa']);
    told(0);
    await flow(peer(), 3);
    expect(lines.breaks(Date.now() - 1500), 'long over').toEqual([]);
  });

  it('makes a connection anew that does not come, or does not come back', async () => {
    status('runa');
    await vi.advanceTimersByTimeAsync(11_000);
    expect(FakePeerLine.all.length).toBe(1);
    await vi.advanceTimersByTimeAsync(3000);
    expect([FakePeerLine.all.length, FakePeerLine.all[0].closed]).toEqual([2, true]);
    const [, second] = FakePeerLine.all;
    second.become('connected');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(FakePeerLine.all.length).toBe(2);
    second.become('disconnected');
    expect(second.restarts).toBe(1);
    await vi.advanceTimersByTimeAsync(5000);
    second.become('connected');
    await vi.advanceTimersByTimeAsync(10_000);
    expect(FakePeerLine.all.length).toBe(2);
    second.become('failed');
    await vi.advanceTimersByTimeAsync(10_000);
    expect([FakePeerLine.all.length, second.closed]).toEqual([3, true]);
  });

  it('gives a connection twice the time when the last was too slow, and no more than its own once one has come about', async () => {
    const made = () => FakePeerLine.all.length;
    status('runa');
    await vi.advanceTimersByTimeAsync(14_000);
    expect(made()).toBe(2);
    await vi.advanceTimersByTimeAsync(21_000);
    expect(made()).toBe(2);
    await vi.advanceTimersByTimeAsync(5000);
    expect(made()).toBe(3);
    peer().become('connected');
    peer().become('failed');
    await vi.advanceTimersByTimeAsync(10_000);
    expect(made()).toBe(4);
    await vi.advanceTimersByTimeAsync(14_000);
    expect(made()).toBe(5);
  });

  it('lets a producer talk to seats, phones of the host included, and nobody else to anybody', async () => {
    status('runa');
    const runa = peer();
    status('wen');
    const wen = peer();
    const talk = JSON.stringify({ type: 'talk', to: ['maren', 'runa', 'wen', 'nobody'] });
    runa.options.onSaid(talk);
    for (const junk of ['', '{', '{"type":"talk"}', '{"type":"talk","to":[1]}']) wen.options.onSaid(junk);
    expect(talks).toEqual([]);
    wen.options.onSaid(talk);
    expect(talks).toEqual([['wen', [phonesOf('maren'), returnOf('runa')]]]);
    // A producer whose line goes talks to nobody any more.
    await flow(wen, 2);
    await vi.advanceTimersByTimeAsync(3000);
    expect(talks.at(-1)).toEqual(['wen', []]);
  });

  it('changes bitrates at once, and stereo only where nobody on air would notice', () => {
    const settings = (change: object) => {
      store.setState(({ seats }) => ({ seats: seats.map((seat) => ({ ...seat, lineSettings: { ...seat.lineSettings, ...change } })) }));
      lines.seatsChanged();
    };
    status('runa');
    settings({ returnKbps: 64 });
    expect([peer().bitrates.at(-1), FakePeerLine.all.length]).toEqual([64, 1]);
    settings({ stereoReturn: false });
    expect(FakePeerLine.all.length).toBe(2);
    admit([]);
    settings({ stereoReturn: true });
    expect(FakePeerLine.all.length).toBe(2);
  });

  it('brings a caller’s own voice and return, and a producer’s talkback and the program, and nothing else', () => {
    for (const seat of ['runa', 'wen']) status(seat);
    expect(opened).toEqual([['voice:runa', 'return:runa'], ['talkback:wen', 'program']]);
  });
});
