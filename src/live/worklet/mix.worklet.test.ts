import { beforeEach, describe, expect, it, vi } from 'vitest';
import { compilePlan } from '@/core/hearing/compile';
import { returnOf, voiceOf } from '@/core/hearing/ids';
import { createPlan, type Seat } from '@/core/hearing/plan';
import { createRandom } from '@/core/random';
import type { Tap } from '@/core/session/captures';
import type { SoundStart } from '@/core/session/mix-session';
import { RING_BLOCK, RING_BLOCKS, ringBytes, ringReader } from '../recorder/ring';
import { createLogReader } from './take-log';
import type { FromMixWorklet, MixWorkletOptions, ToMixWorklet } from './messages';
import { BLOCKS_PER_READING, CLOCK, LOGGED, RECORDED_FRAMES, statusBoard, statusBoardBytes } from './status-board';

interface Processor {
  port: { onmessage: ((event: { data: ToMixWorklet }) => void) | null };
  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}

const seat = (id: string, role: Seat['role']): Seat => ({ id, name: id, role, line: 'link', reflexive: 'themselves' });
const plan = compilePlan(createPlan([seat('maren', 'host'), seat('odalys', 'caller'), seat('runa', 'caller')], [{ id: 'bed', name: 'Bed' }]));
const source = (id: string) => plan.sourceIds.indexOf(voiceOf(id));
const RETURN = plan.listenerIds.indexOf(returnOf('odalys'));

/** The audio thread as the browser runs it, a block at a time. */
class Thread {
  readonly told: FromMixWorklet[] = [];
  readonly board;
  readonly #processor: Processor;

  constructor(Processor: new (options: { processorOptions: MixWorkletOptions }) => Processor, scope: { posted: FromMixWorklet[] }) {
    const [sources, listeners] = [plan.sourceIds.length, plan.listenerIds.length];
    const status = new SharedArrayBuffer(statusBoardBytes(sources, listeners));
    scope.posted = this.told;
    this.#processor = new Processor({ processorOptions: { sources, listeners, status } });
    this.board = statusBoard(status, sources, listeners);
    this.tell({ type: 'plan', number: 1, plan });
    this.tell({ type: 'places', devices: [], outlets: [], inputs: [source('maren'), source('odalys'), source('runa')], outputs: [RETURN] });
    // Gains have come up when this reading is there.
    this.blocks(BLOCKS_PER_READING);
  }

  tell(message: ToMixWorklet): void {
    this.#processor.port.onmessage!({ data: message });
  }

  /** One block from what came in on each input; returns what went out. */
  block(...inputs: Float32Array[][]): Float32Array[] {
    const out = [new Float32Array(RING_BLOCK), new Float32Array(RING_BLOCK)];
    this.#processor.process(inputs, [out]);
    return out;
  }

  blocks(count: number, ...inputs: Float32Array[][]): void {
    for (let n = 0; n < count; n++) this.block(...inputs);
  }

  record(taps: Tap[], from?: number) {
    const channels = taps.reduce((sum, tap) => sum + tap.channels, 0);
    const ring = new SharedArrayBuffer(ringBytes(channels));
    this.tell({ type: 'record', ring, taps, from });
    const reader = ringReader(ring, channels);
    const drain = () => {
      const read: { position: number; channels: Float32Array }[] = [];
      reader.drain((position, block) => read.push({ position, channels: block.slice() }));
      return read;
    };
    return { drain, ended: () => reader.ended() };
  }
}

const tapOf = (id: string): Tap => ({ of: 'source', slot: source(id), channels: 1 });
const constant = (value: number) => new Float32Array(RING_BLOCK).fill(value);

describe('the audio thread', () => {
  let thread: Thread;

  beforeEach(async () => {
    vi.resetModules();
    let Registered: (new (options: { processorOptions: MixWorkletOptions }) => Processor) | null = null;
    const scope = { posted: [] as FromMixWorklet[] };
    vi.stubGlobal(
      'AudioWorkletProcessor',
      class {
        readonly port = { onmessage: null, postMessage: (message: FromMixWorklet) => void scope.posted.push(message) };
      },
    );
    vi.stubGlobal('registerProcessor', (_: string, processor: typeof Registered) => (Registered = processor));
    await import('./mix.worklet');
    thread = new Thread(Registered!, scope);
    return () => vi.unstubAllGlobals();
  });

  it('records each source as it came in, to the sample, and returns to nobody what is theirs', () => {
    const random = createRandom(7);
    const noise = () => Float32Array.from({ length: RING_BLOCK }, () => 0.2 * random.normal());
    const { drain } = thread.record([tapOf('odalys'), tapOf('maren')]);
    const [maren, odalys, runa] = [noise(), noise(), noise()];
    const [left] = thread.block([maren], [odalys], [runa]);
    const [{ channels }] = drain();
    expect(channels.subarray(0, RING_BLOCK)).toEqual(odalys);
    expect(channels.subarray(RING_BLOCK)).toEqual(maren);
    left.forEach((sample, i) => expect(sample).toBeCloseTo(maren[i] + runa[i], 6));
  });

  it('takes both sides of a stereo input into a voice, and silence from one that nothing is connected to', () => {
    const { drain } = thread.record([{ ...tapOf('maren'), channels: 2 }, tapOf('odalys')]);
    thread.block([constant(0.25), constant(0.5)], [], [constant(0.1)]);
    const [{ channels }] = drain();
    expect(channels[0]).toBe(0.25);
    expect(channels[RING_BLOCK]).toBe(0.5);
    expect(channels.subarray(2 * RING_BLOCK).every((sample) => sample === 0)).toBe(true);
  });

  it('leaves whole blocks out while it is paused, and goes on at the next sample of the take', () => {
    const { drain } = thread.record([tapOf('maren')]);
    thread.blocks(10, [constant(0.1)]);
    thread.tell({ type: 'pause-recording', paused: true });
    thread.blocks(7, [constant(0.2)]);
    thread.tell({ type: 'pause-recording', paused: false });
    thread.blocks(15, [constant(0.3)]);
    const read = drain();
    expect(read.map(({ channels }) => channels[0])).toEqual([...constant(0.1).subarray(0, 10), ...constant(0.3).subarray(0, 15)]);
    expect(read.map(({ position }) => position - read[0].position)).toEqual(read.map((_, n) => n * RING_BLOCK));
    // 32 blocks are four whole readings.
    expect(thread.board.clocks[RECORDED_FRAMES]).toBe(25 * RING_BLOCK);
    expect(thread.board.clocks[CLOCK]).toBe((BLOCKS_PER_READING + 32) * RING_BLOCK);
  });

  it('loses what a full ring has no room for, seen as a jump in position', () => {
    const { drain } = thread.record([tapOf('maren')]);
    thread.blocks(RING_BLOCKS + 3, [constant(0.1)]);
    expect(drain().length).toBe(RING_BLOCKS);
    thread.blocks(2, [constant(0.2)]);
    const after = drain();
    expect(after.map(({ position }) => position / RING_BLOCK)).toEqual([RING_BLOCKS + 3, RING_BLOCKS + 4]);
    thread.blocks(BLOCKS_PER_READING);
    // The take counts what was lost, for it has its place there.
    expect(thread.board.clocks[RECORDED_FRAMES] % RING_BLOCK).toBe(0);
    expect(thread.board.clocks[RECORDED_FRAMES]).toBeGreaterThanOrEqual((RING_BLOCKS + 5) * RING_BLOCK);
  });

  it('goes on with a take at its sample, with silence for a source that is no longer there', () => {
    const { drain, ended } = thread.record([tapOf('maren'), { of: 'source', slot: 99, channels: 1 }], 4800);
    thread.blocks(BLOCKS_PER_READING, [constant(0.4)]);
    expect(thread.board.clocks[RECORDED_FRAMES]).toBe(4800 + BLOCKS_PER_READING * RING_BLOCK);
    const read = drain();
    expect(read[0].position).toBe(4800);
    expect(read.every(({ channels }) => channels[0] === constant(0.4)[0] && channels[RING_BLOCK] === 0)).toBe(true);
    thread.tell({ type: 'stop-recording' });
    expect(ended()).toBe(true);
    thread.blocks(1, [constant(0.5)]);
    expect(drain()).toEqual([]);
  });

  it('writes down what was in force at which sample, the plan it began with and every pause', () => {
    const log = createLogReader(thread.board, LOGGED);
    const { drain } = thread.record([tapOf('maren')]);
    thread.blocks(5, [constant(0.1)]);
    thread.tell({ type: 'plan', number: 2, plan });
    // The same plan once more, as it comes when only the host's own phones changed.
    thread.tell({ type: 'plan', number: 2, plan });
    thread.blocks(3);
    thread.tell({ type: 'pause-recording', paused: true });
    thread.blocks(4);
    thread.tell({ type: 'plan', number: 3, plan });
    thread.tell({ type: 'pause-recording', paused: false });
    thread.blocks(2);
    thread.tell({ type: 'pause-recording', paused: true });
    thread.blocks(6);
    thread.tell({ type: 'stop-recording' });
    thread.tell({ type: 'plan', number: 4, plan });
    expect(log.read()).toEqual([
      { type: 'begun', atSample: 0, clock: BLOCKS_PER_READING * RING_BLOCK },
      { type: 'plan', atSample: 0, plan: 1 },
      { type: 'plan', atSample: 5 * RING_BLOCK, plan: 2 },
      { type: 'plan', atSample: 8 * RING_BLOCK, plan: 3 },
      { type: 'paused', atSample: 8 * RING_BLOCK, lengthSamples: 4 * RING_BLOCK },
      { type: 'paused', atSample: 10 * RING_BLOCK, lengthSamples: 6 * RING_BLOCK },
      { type: 'ended', atSample: 10 * RING_BLOCK },
    ]);
    expect(drain().length).toBe(10);
  });

  it('places a sound that was played in the take, whatever pauses lay in between', () => {
    const log = createLogReader(thread.board, LOGGED);
    const clip = { left: constant(0.5), right: constant(0.5), loop: true };
    thread.tell({ type: 'add-sound', id: 'bell', player: 'bed', clip, place: 7 });
    const press = () => thread.tell({ type: 'press-sounds', presses: [{ id: 'bell', gain: 1, again: 'restart', others: [], crossfadeSamples: 0 }] });
    const stop = () => thread.tell({ type: 'stop-sound', id: 'bell' });
    press();
    thread.blocks(3);
    thread.record([tapOf('maren')]);
    thread.blocks(4);
    stop();
    thread.blocks(10);
    press();
    thread.blocks(2);
    thread.tell({ type: 'pause-recording', paused: true });
    thread.blocks(20);
    thread.tell({ type: 'pause-recording', paused: false });
    thread.blocks(6);
    stop();
    thread.blocks(10);
    const played = log.read().flatMap((entry) => (entry.type === 'played' ? [entry] : []));
    expect(played.map(({ atSample, place, peak }) => ({ atSample, place, peak }))).toEqual([
      { atSample: 0, place: 7, peak: 0.5 },
      { atSample: 14 * RING_BLOCK, place: 7, peak: 0.5 },
    ]);
    const fade = 480;
    expect(played.map(({ lengthSamples }) => lengthSamples)).toEqual([4 * RING_BLOCK + fade, 8 * RING_BLOCK + fade]);
  });

  it('goes on in another ring when the take gets more tracks, at the very next sample', () => {
    const first = thread.record([tapOf('maren')]);
    thread.blocks(3, [constant(0.1)], [constant(0.6)]);
    const ring = new SharedArrayBuffer(ringBytes(2));
    thread.tell({ type: 'record-more', ring, taps: [tapOf('maren'), tapOf('odalys')] });
    thread.blocks(2, [constant(0.1)], [constant(0.6)]);
    expect(first.drain().map(({ position }) => position)).toEqual([0, RING_BLOCK, 2 * RING_BLOCK]);
    expect(first.ended()).toBe(true);
    const reader = ringReader(ring, 2);
    const more: number[][] = [];
    reader.drain((position, block) => more.push([position, block[0], block[RING_BLOCK]]));
    expect(more).toEqual([3, 4].map((n) => [n * RING_BLOCK, constant(0.1)[0], constant(0.6)[0]]));
    thread.tell({ type: 'stop-recording' });
    expect(reader.ended()).toBe(true);
  });

  it('silences a practice seat without touching the others, who go on where they are', () => {
    const speaker = (id: string, value: number) => ({ seat: id, clips: [new Float32Array(200 * RING_BLOCK).fill(value)], caller: null });
    const call = { seed: 1, speakers: [speaker('maren', 0.3), speaker('odalys', 0.2)], turns: [{ speaker: 0, clip: 0 }, { speaker: 1, clip: 0 }] };
    thread.tell({ type: 'start-practice', options: call });
    const heard = () => {
      const { drain } = thread.record([tapOf('maren'), tapOf('odalys')]);
      thread.blocks(RING_BLOCKS - 1);
      thread.tell({ type: 'stop-recording' });
      return drain().map(({ channels }) => [channels[64], channels[RING_BLOCK + 64]]);
    };
    const begins = (blocks: number[][], voice: number) => blocks.findIndex((block) => block[voice] !== 0);
    const both = heard();
    expect(begins(both, 0)).toBeGreaterThan(0);
    expect(begins(both, 1)).toBeGreaterThan(begins(both, 0));
    thread.tell({ type: 'stop-practice' });
    thread.tell({ type: 'practice-speaks', seat: 'maren', speaks: false });
    thread.tell({ type: 'start-practice', options: call });
    const alone = heard();
    expect(begins(alone, 0)).toBe(-1);
    expect(begins(alone, 1)).toBe(begins(both, 1));
  });

  it('shows the loudest sample of each source since the last reading', () => {
    thread.block([constant(0.1)], [constant(-0.7)]);
    thread.blocks(BLOCKS_PER_READING - 1, [constant(0.05)], [constant(0.2)]);
    expect(Atomics.load(thread.board.readings, 0)).toBe(2);
    expect(thread.board.sourcePeak[source('maren')]).toBeCloseTo(0.1, 6);
    expect(thread.board.sourcePeak[source('odalys')]).toBeCloseTo(0.7, 6);
    expect(thread.board.listenerPeak[RETURN]).toBeCloseTo(0.1, 6);
    thread.blocks(BLOCKS_PER_READING, [constant(0.05)], [constant(0.2)]);
    expect(thread.board.sourcePeak[source('odalys')]).toBeCloseTo(0.2, 6);
  });

  it('sends probes and says from when on, gives captures what comes in by the session clock, and leaves a take its voices', () => {
    const { drain } = thread.record([tapOf('odalys')]);
    const taps: Tap[] = [{ of: 'listener', slot: RETURN, channels: 2 }, { of: 'others', slot: source('runa'), channels: 1 }];
    const ring = new SharedArrayBuffer(ringBytes(3, 16));
    const reader = ringReader(ring, 3);
    thread.tell({ type: 'capture', name: 'looked at', ring, taps });
    const begins = thread.board.clocks[CLOCK];
    thread.tell({ type: 'probe', number: 4, samples: 4 * RING_BLOCK, probes: [{ of: 'source', slot: source('maren'), period: constant(0.5) }] });
    expect(thread.told).toEqual([{ type: 'probing', number: 4, at: begins }]);
    for (let k = 0; k < 20; k++) thread.block([constant(0.1)], [constant(0.3)], [constant(0.2)]);
    const captured: { position: number; of: number[] }[] = [];
    reader.drain((position, block) => captured.push({ position, of: [block[64], block[RING_BLOCK + 64], block[2 * RING_BLOCK + 64]] }));
    // A reader that is a whole ring behind loses what came meanwhile.
    expect(captured.map(({ position }) => position)).toEqual(Array.from({ length: 16 }, (_, k) => begins + k * RING_BLOCK));
    expect(captured[0].of[0]).toBeGreaterThan(0.3);
    expect(captured[10].of.map((x) => Math.round(100 * x))).toEqual([30, 30, 80]);
    expect(drain().every(({ channels }) => channels[64] === Math.fround(0.3))).toBe(true);
    thread.tell({ type: 'capture', name: 'looked at', ring: null });
    thread.block();
    expect(reader.ended()).toBe(true);
  });

  it('keeps mixing when it is told what it cannot do, and says so', () => {
    thread.tell({ type: 'press-sounds', presses: [{ id: 'never-added' } as SoundStart] });
    expect(thread.told).toEqual([{ type: 'failed', message: 'There is no sound never-added on this desk.' }]);
    const [left] = thread.block([constant(0.25)]);
    expect(left[0]).toBeCloseTo(0.25, 6);
  });
});
