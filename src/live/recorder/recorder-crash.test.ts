// Long, because one made-up worker, disk and server, and one known sound, serve every way a recorder can end.
import { createHash } from 'node:crypto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { createRandom, type Random } from '@/core/random';
import { CHUNK_FRAMES } from '@/core/takes/chunks';
import { recordBytes, SEGMENT_FRAMES } from '@/core/takes/journal';
import { FakeBlob } from '../testing/fake-blob';
import { createFakeDisk, type FakeDisk } from '../testing/fake-disk';
import { createFakeTakeServer, type FakeTakeServer } from '../testing/fake-take-server';
import { LOGGED, statusBoard, statusBoardBytes } from '../worklet/status-board';
import { writeEntry } from '../worklet/take-log';
import { keepRing } from './keep-ring';
import type { BoardMemory, FromRecorder, RecordedTrack } from './messages';
import { RING_BLOCK, ringBytes, ringWriter, type RingWriter } from './ring';

const TRACKS: RecordedTrack[] = [
  { id: 'a', recorded: 'voice:maren', channels: 1, format: 'pcm24' },
  { id: 'b', recorded: 'voice:odalys', channels: 1, format: 'pcm16' },
  { id: 'c', recorded: 'sounds:bed', channels: 2, format: 'float32' },
];
const CHANNELS = 4;
/** Of somebody who comes while the take runs. */
const LATE: RecordedTrack = { id: 'd', recorded: 'voice:tide', channels: 1, format: 'pcm24', late: { kind: 'voice', name: 'Tide', fromSample: null } };
const BOARD: BoardMemory = { status: new SharedArrayBuffer(statusBoardBytes(1, 1)), sources: 1, listeners: 1 };
const board = statusBoard(BOARD.status, 1, 1);
const STEP_MS = 100;

/** A known sound that says where it is, and that 16 bits carry exactly. */
const truth = (channel: number, sample: number): number => (((sample * 7919 + channel * 104_729) % 65_521) - 32_760) / 32_768;

/** A worker without a page: the module runs in this process, on fake time, and is killed by taking everything away from it. */
class Worker {
  readonly said: FromRecorder[] = [];
  readonly scope = { onmessage: null as ((event: { data: unknown }) => void) | null, postMessage: (message: FromRecorder) => void this.said.push(message) };
  #dead = false;

  constructor(readonly server: FakeTakeServer) {}

  async load(): Promise<void> {
    vi.resetModules();
    vi.stubGlobal('self', this.scope);
    vi.stubGlobal('Blob', FakeBlob);
    vi.stubGlobal('fetch', async (...words: Parameters<FakeTakeServer['fetch']>) => {
      const answer = await this.server.fetch(...words);
      return this.#dead ? new Promise<never>(() => undefined) : answer;
    });
    await import('./recorder.worker');
  }

  tell(data: unknown): void {
    this.scope.onmessage!({ data });
  }

  kill(): void {
    this.#dead = true;
    vi.clearAllTimers();
  }

  last<Type extends FromRecorder['type']>(type: Type): Extract<FromRecorder, { type: Type }> | undefined {
    return this.said.findLast((message): message is Extract<FromRecorder, { type: Type }> => message.type === type);
  }

  async until<Type extends FromRecorder['type']>(type: Type): Promise<Extract<FromRecorder, { type: Type }>> {
    for (let turns = 0; turns < 3000; turns++) {
      const failed = this.last('failed');
      if (failed && type !== 'failed') throw new Error(failed.message);
      const found = this.last(type);
      if (found) return found;
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    throw new Error(`The recorder never said ${type}.`);
  }
}

/** The audio thread: writes what is true from a sample of the take on, and leaves out what finds no room. */
function audioThread(first: RingWriter, clock: number, fromSample: number, firstChannels = CHANNELS) {
  let [sample, writer, channels] = [fromSample, first, firstChannels];
  writeEntry(board, LOGGED, 'begun', fromSample, clock);
  return {
    play(blocks: number) {
      for (let block = 0; block < blocks; block++, sample += RING_BLOCK) {
        const room = writer.next();
        if (!room) continue;
        for (let channel = 0; channel < channels; channel++) for (let k = 0; k < RING_BLOCK; k++) room[channel * RING_BLOCK + k] = truth(channel, sample + k);
        writer.commit(sample);
      }
    },
    planInForce: (plan: number) => writeEntry(board, LOGGED, 'plan', sample, plan),
    pause: (lengthSamples: number) => writeEntry(board, LOGGED, 'paused', sample, lengthSamples),
    goOnWith(ring: SharedArrayBuffer, count: number) {
      writer.close();
      [writer, channels] = [ringWriter(ring, count), count];
      return sample;
    },
    at: () => sample,
    close: () => writer.close(),
  };
}

/** A take that has begun. */
async function recording(server: FakeTakeServer) {
  const worker = new Worker(server);
  await worker.load();
  const ring = new SharedArrayBuffer(ringBytes(CHANNELS));
  worker.tell({ type: 'start', take: 't', tracks: TRACKS, ring, board: BOARD, clockAtCall: null, leftOut: [] });
  await worker.until('ready');
  return { worker, thread: audioThread(ringWriter(ring, CHANNELS), 0, 0) };
}

interface Seen {
  /** First sample of the track that was added. */
  lateFrom: number;
  /** Where a plan came into force. */
  planAt: number;
  /** Of each crash: what the recorder had said was kept, and where the take went on. */
  crashes: { kept: number; foundSamples: number; wentOnAt: number }[];
  lengthSamples: number;
}

/** Records, is killed so many times, goes on each time, and seals. */
async function recordThroughCrashes(random: Random, disk: FakeDisk, server: FakeTakeServer, kills: number): Promise<Seen> {
  const crashes: Seen['crashes'] = [];
  const addAt = random.index(2 * (kills + 1));
  let [channels, lateFrom, planAt] = [CHANNELS, -1, -1];
  let worker = new Worker(server);
  await worker.load();
  let ring = new SharedArrayBuffer(ringBytes(channels));
  worker.tell({ type: 'start', take: 't', tracks: TRACKS, ring, board: BOARD, clockAtCall: 0, leftOut: [] });
  await worker.until('ready');
  let thread = audioThread(ringWriter(ring, channels), 4096, 0, channels);
  for (let crash = 0; ; crash++) {
    const steps = 20 + random.index(150);
    for (let step = 0; step < steps; step++) {
      thread.play(25 + random.index(26));
      if (step === 5 && crash === 0) {
        worker.tell({ type: 'plan', number: 9, plan: { of: 'the change' }, hands: {} });
        planAt = thread.at();
        thread.planInForce(9);
      }
      if (lateFrom < 0 && 2 * crash + (step > 15 ? 1 : 0) >= addAt && step % 15 === 6) {
        const more = new SharedArrayBuffer(ringBytes(CHANNELS + 1));
        const readies = worker.said.filter(({ type }) => type === 'ready').length;
        worker.tell({ type: 'more-tracks', tracks: [structuredClone(LATE)], ring: more });
        while (worker.said.filter(({ type }) => type === 'ready').length === readies) {
          thread.play(30);
          await vi.advanceTimersByTimeAsync(STEP_MS);
        }
        channels = CHANNELS + 1;
        lateFrom = thread.goOnWith(more, channels);
      }
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    if (crash === kills) break;
    thread.play(random.index(60));
    const kept = worker.last('progress')!.keptFrames!;
    worker.kill();
    disk.kill(new Uint8Array(random.index(3000)));
    worker = new Worker(server);
    await worker.load();
    worker.tell({ type: 'recover', take: 't' });
    const { lengthSamples: foundSamples } = await worker.until('recovered');
    const wentOnAt = Math.ceil((foundSamples + random.index(700_000)) / RING_BLOCK) * RING_BLOCK;
    crashes.push({ kept, foundSamples, wentOnAt });
    // The recorder reads the log from here on; the new audio thread writes into it only afterwards.
    const fresh = new SharedArrayBuffer(ringBytes(channels));
    worker.tell({ type: 'continue-kept', ring: fresh, board: BOARD });
    ring = fresh;
    thread = audioThread(ringWriter(ring, channels), RING_BLOCK * random.index(5000), wentOnAt, channels);
  }
  thread.close();
  const { lengthSamples } = await worker.until('sealed');
  return { crashes, lateFrom, planAt, lengthSamples };
}

describe('a recorder that is killed', () => {
  const disk = { current: createFakeDisk() };
  beforeEach(() => {
    vi.useFakeTimers();
    disk.current = createFakeDisk();
    vi.stubGlobal('navigator', { storage: disk.current.storage });
    vi.stubGlobal('crypto', { subtle: { digest: (_: string, bytes: Uint8Array) => Promise.resolve(Uint8Array.from(createHash('sha256').update(bytes).digest()).buffer) } });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it.each([1, 2, 3, 4, 5, 6])('loses nothing it had said was kept, shifts nothing, and lists the rest (seed %i)', async (seed) => {
    const random = createRandom(seed);
    const server = createFakeTakeServer(random);
    const { crashes, lateFrom, planAt, lengthSamples } = await recordThroughCrashes(random, disk.current, server, 1 + (seed % 3));

    const sealed = server.sealed()!;
    expect(sealed.lengthSamples).toBe(lengthSamples);
    expect(server.contradictions()).toEqual([]);
    for (const { kept, foundSamples } of crashes) expect(foundSamples, 'what was kept is found').toBeGreaterThanOrEqual(kept);
    const expected = crashes.filter(({ foundSamples, wentOnAt }) => wentOnAt > foundSamples).map(({ foundSamples, wentOnAt }) => ({ atSample: foundSamples, lengthSamples: wentOnAt - foundSamples, cause: 'desk-away' }));
    expect(server.lateTracks()).toEqual(new Map(lateFrom < 0 ? [] : [['d', lateFrom]]));
    for (const [first, track] of [...TRACKS, ...(lateFrom < 0 ? [] : [LATE])].entries()) {
      const from = track === LATE ? lateFrom : 0;
      const gaps = sealed.gaps.filter((gap) => gap.track === track.id).map(({ atSample, lengthSamples: length, cause }) => ({ atSample, lengthSamples: length, cause }));
      expect(gaps, `the gaps of track ${track.id}`).toEqual(expected.filter(({ atSample }) => atSample >= from));
      // The first three tracks have four channels.
      server.track(track, lengthSamples).forEach((samples, channel) => {
        const wrong = samples.findIndex((sample, at) => {
          if (at < from) return at >= CHUNK_FRAMES * Math.floor(from / CHUNK_FRAMES) && sample !== 0;
          const silent = gaps.some((gap) => at >= gap.atSample && at < gap.atSample + gap.lengthSamples);
          return sample !== (silent ? 0 : truth((track === LATE ? CHANNELS : first) + channel, at));
        });
        expect(wrong, `the first sample of track ${track.id} that is not what was played`).toBe(-1);
      });
    }
    expect(server.plans()).toEqual([{ atSample: planAt, plan: { of: 'the change' }, hands: {} }]);
    expect(disk.current.files(), 'nothing is left on this computer').toEqual([]);
  });

  it('lists what found no room while it was held up, and keeps every other sample in its place', async () => {
    const server = createFakeTakeServer(createRandom(11));
    const { worker, thread } = await recording(server);
    // Six seconds in which the recorder gets no turn: half a second more than the ring holds.
    thread.play(2250);
    await vi.advanceTimersByTimeAsync(STEP_MS);
    thread.play(100);
    thread.close();
    const { lengthSamples, lostSamples } = await worker.until('sealed');
    expect(lengthSamples).toBe(2350 * RING_BLOCK);
    expect(lostSamples).toBe(202 * RING_BLOCK);
    expect(server.sealed()!.gaps.filter(({ track }) => track === 'a')).toEqual([{ track: 'a', atSample: 2048 * RING_BLOCK, lengthSamples: 202 * RING_BLOCK, cause: 'ring-overrun' }]);
    const [samples] = server.track(TRACKS[0], lengthSamples);
    expect(samples.at(-1)).toBe(truth(0, lengthSamples - 1));
  });

  it('holds no more than a little in memory while the server is away, and reads the rest from this computer when it is back', async () => {
    const server = createFakeTakeServer(createRandom(14));
    const { worker, thread } = await recording(server);
    server.setAway(true);
    for (let step = 0; step < 900; step++) {
      thread.play(38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    await vi.advanceTimersByTimeAsync(STEP_MS);
    expect(worker.last('progress')).toMatchObject({ waiting: { message: 'The server cannot be reached.' }, keptFrames: 900 * 38 * RING_BLOCK });
    expect(disk.current.reads()).toBe(0);
    server.setAway(false);
    thread.close();
    // On a machine that was held up a disk may take longer for one segment than the recorder ever waits while it keeps.
    disk.current.becomeSlow(7000);
    const { lengthSamples } = await worker.until('sealed');
    await vi.advanceTimersByTimeAsync(7000);
    expect(disk.current.reads()).toBeGreaterThan(2);
    expect(lengthSamples).toBe(900 * 38 * RING_BLOCK);
    for (const [first, track] of TRACKS.entries()) {
      const wrong = server.track(track, lengthSamples).map((samples, channel) => samples.findIndex((sample, at) => sample !== truth(first + channel, at)));
      expect(wrong.every((at) => at === -1), `track ${track.id}`).toBe(true);
    }
    expect(disk.current.files()).toEqual([]);
  });

  it('says that nothing is kept here when the disk is full, and brings the take to the server all the same', async () => {
    const server = createFakeTakeServer(createRandom(12));
    const { worker, thread } = await recording(server);
    for (let step = 0; step < 40; step++) {
      if (step === 20) disk.current.setRoom(5000);
      thread.play(38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
      if (step === 15) expect(worker.last('progress')!.keptFrames).toBeGreaterThan(14 * 38 * RING_BLOCK);
    }
    expect(worker.last('progress')!.keptFrames).toBeNull();
    thread.close();
    const { lengthSamples } = await worker.until('sealed');
    expect(lengthSamples).toBe(40 * 38 * RING_BLOCK);
    const [samples] = server.track(TRACKS[0], lengthSamples);
    expect(samples.findIndex((sample, at) => sample !== truth(0, at))).toBe(-1);
  });

  it('empties its ring while a slow disk is waited for: nothing is lost, and what is let go of holds nothing up', async () => {
    const server = createFakeTakeServer(createRandom(16));
    const { worker, thread } = await recording(server);
    const steps = 8 * Math.ceil(SEGMENT_FRAMES / (38 * RING_BLOCK));
    for (let step = 0; step < steps; step++) {
      if (step === 10) disk.current.becomeSlow(2900);
      // All of what waited is let go of at once when the server is back.
      server.setAway(step > 20 && step < 0.6 * steps);
      thread.play(38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
      expect(worker.last('progress')?.keptFrames ?? 0, 'kept but for what waits for the disk once').toBeGreaterThan((step - 75) * 38 * RING_BLOCK);
    }
    thread.close();
    const { lengthSamples, lostSamples } = await worker.until('sealed');
    expect([lengthSamples, lostSamples]).toEqual([steps * 38 * RING_BLOCK, 0]);
  });

  it('empties its ring also while every part of a long take is slow to go', async () => {
    disk.current.becomeSlow(2900);
    const ring = new SharedArrayBuffer(ringBytes(CHANNELS));
    const thread = audioThread(ringWriter(ring, CHANNELS), 0, 0);
    let [kept, ready, ended] = [0, false, false];
    const keeper = keepRing({ folder: 'takes', take: 't', part: 2, channels: CHANNELS, ring, origin: 0, nearSample: 0 }, (message) => {
      if (message.type === 'kept') kept += (message.records.byteLength / recordBytes(CHANNELS, RING_BLOCK)) * RING_BLOCK;
      ready ||= message.type === 'ready';
      ended ||= message.type === 'ended';
    });
    while (!ready) await vi.advanceTimersByTimeAsync(STEP_MS);
    for (let step = 0; step < 300; step++) {
      thread.play(38);
      if (thread.at() > SEGMENT_FRAMES) keeper.release(1);
      await vi.advanceTimersByTimeAsync(STEP_MS);
    }
    thread.close();
    while (!ended) await vi.advanceTimersByTimeAsync(STEP_MS);
    expect(kept).toBe(thread.at());
  });

  it('waits for no disk that has stopped answering: nothing is lost, and the take is sealed', async () => {
    const server = createFakeTakeServer(createRandom(15));
    const { worker, thread } = await recording(server);
    const steps = 3 * Math.ceil(SEGMENT_FRAMES / (38 * RING_BLOCK));
    for (let step = 0; step < steps; step++) {
      if (step === 10) {
        disk.current.fallSilent();
        worker.tell({ type: 'line-gaps', gaps: [] });
      }
      thread.play(38);
      await vi.advanceTimersByTimeAsync(STEP_MS);
      if (step === 40) expect(worker.last('progress')!.capturedFrames, 'heard of while the note is being written').toBeGreaterThan(35 * 38 * RING_BLOCK);
    }
    expect(worker.last('progress')!.keptFrames).toBeNull();
    thread.close();
    const { lengthSamples, lostSamples } = await worker.until('sealed');
    expect([lengthSamples, lostSamples]).toEqual([steps * 38 * RING_BLOCK, 0]);
    const [samples] = server.track(TRACKS[0], lengthSamples);
    expect(samples.findIndex((sample, at) => sample !== truth(0, at))).toBe(-1);
  });

  it('reads the older of its two notes where the newer one was cut off', async () => {
    const server = createFakeTakeServer(createRandom(13));
    const { worker: first, thread } = await recording(server);
    thread.play(38);
    await vi.advanceTimersByTimeAsync(3 * STEP_MS);
    first.tell({ type: 'line-gaps', gaps: [] });
    thread.play(38);
    await vi.advanceTimersByTimeAsync(2 * STEP_MS);
    const kept = first.last('progress')!.keptFrames!;
    expect(kept).toBe(2 * 38 * RING_BLOCK);
    first.kill();
    disk.current.kill(new Uint8Array(0));
    const revisionOf = (name: string) => (JSON.parse(disk.current.text(name)) as { revision: number }).revision;
    const [newest] = ['takes/t/take-0.json', 'takes/t/take-1.json'].sort((a, b) => revisionOf(b) - revisionOf(a));
    disk.current.overwrite(newest, new TextEncoder().encode('{"take":"t","tra'));
    const second = new Worker(server);
    await second.load();
    second.tell({ type: 'recover', take: 't' });
    expect((await second.until('recovered')).lengthSamples).toBe(kept);
    second.tell({ type: 'seal-kept' });
    expect((await second.until('sealed')).lengthSamples).toBe(kept);
  });
});
