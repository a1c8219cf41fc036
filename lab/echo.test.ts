import { describe, expect, it } from 'vitest';
import { CANCELLER_DELAY, EchoCanceller } from '../src/core/echo/canceller';
import { codingLossDb } from '../src/core/echo/echo-level';
import { EchoWatch, WATCH_RATE, WATCH_STEP, type EchoFound } from '../src/core/echo/echo-watch';
import { atWatchRate, echoCall, type EchoCallOptions } from './echo-call';
import { logSpectralDistance } from './log-spectral-distance';
import { haveUsualCanceller, usuallyCancelled } from './usual-canceller';

const RATE = 48_000;
const QUIET: Omit<EchoCallOptions, 'seed'> = { seconds: 40, voices: 'recorded', line: { kbps: 64, loss: 0.02, jumpsPerSecond: 0.1 }, echoDb: null, reverberationMs: 250, bothSpeak: 0.2, roomDb: -70, sameRoomDb: null };

/** Watches a call: what was found, and after how many seconds in which something was sent. */
function watched(options: EchoCallOptions) {
  const call = echoCall(options);
  const { sent, microphone } = atWatchRate(call);
  const watch = new EchoWatch();
  const found: EchoFound[] = [];
  let [spoken, foundAfter] = [0, Infinity];
  for (let at = 0; at + WATCH_STEP <= sent.length; at += WATCH_STEP) {
    const part = sent.subarray(at, at + WATCH_STEP);
    for (let i = 0; i < WATCH_STEP; i += 256) if (power(part, i, 256) > 1e-5) spoken += 256 / WATCH_RATE;
    const { echo } = watch.step(microphone.subarray(at, at + WATCH_STEP), part, 0.9 * Math.min(...call.delaysMs));
    if (!echo) continue;
    found.push(echo);
    foundAfter = Math.min(foundAfter, spoken);
  }
  return { call, found, foundAfter };
}

const power = (samples: Float32Array, from: number, length: number): number => {
  let sum = 0;
  for (let i = from; i < from + length; i++) sum += samples[i] ** 2;
  return sum / length;
};

/** Cancels a call from its beginning, told the delay and level a watch would tell. */
function cancelled(options: EchoCallOptions, change: (microphone: Float32Array<ArrayBuffer>) => Float32Array<ArrayBuffer> = (same) => same) {
  const call = echoCall(options);
  const microphone = change(call.microphone);
  const canceller = new EchoCanceller(RATE);
  canceller.begin({ delayMs: call.delaysMs[0], gainDb: call.trueDb ?? -30 });
  const out = new Float32Array(microphone.length);
  // Blocks of no power of two: what comes out must not depend on them.
  for (let at = 0; at < out.length; at += 300) {
    const length = Math.min(300, out.length - at);
    canceller.hear(call.sent.subarray(at), length);
    canceller.process(microphone.subarray(at), out.subarray(at), length);
  }
  // As late as what came in.
  return { call, microphone, out: Float32Array.from(out, (_, i) => out[i + CANCELLER_DELAY] ?? 0) };
}

/** How much less comes through while the others speak and nobody here does, dB. */
function takenAwayDb({ call, microphone, out }: ReturnType<typeof cancelled>, from: number, to = Infinity): number {
  let [came, left] = [0, 0];
  for (let i = Math.round(from * RATE); i < Math.min(out.length, to * RATE); i++) {
    // A voice here is still on its way for a while.
    if ([-2400, 0, 4800, 12_000].some((ago) => call.nearSpeaks(i - ago))) continue;
    came += microphone[i] ** 2;
    left += out[i] ** 2;
  }
  return 10 * Math.log10(came / left);
}

/** The same as it is most of the time: of all half seconds, the middle one. */
function usuallyTakenDb(result: ReturnType<typeof cancelled>, from: number): number {
  const all: number[] = [];
  for (let at = from; at + 0.5 <= result.out.length / RATE; at += 0.5) {
    const db = takenAwayDb(result, at, at + 0.5);
    if (!Number.isNaN(db) && power(result.microphone, at * RATE, RATE / 2) > 1e-6) all.push(db);
  }
  return all.sort((a, b) => a - b)[all.length >> 1];
}

describe('the echo watch on recorded voices, through the coder with lost packets and jumps', () => {
  it.each([1, 5, 51_003])('finds a −30 dB echo within three seconds of the others’ speech, with its delay and level (%i)', (seed) => {
    const { call, found, foundAfter } = watched({ ...QUIET, seed, echoDb: -30 });
    expect(foundAfter).toBeLessThan(3);
    const off = found.map(({ delayMs }) => Math.min(...call.delaysMs.map((one) => Math.abs(one - delayMs)))).sort((a, b) => a - b);
    expect(off[Math.floor(0.9 * off.length)], 'delay, ms').toBeLessThan(2);
    expect(Math.abs(found.at(-1)!.levelDb! + codingLossDb(64) - call.trueDb!), 'level, dB').toBeLessThan(1.5);
  });

  it.each([51_002, 51_004])('finds it as soon where a call begins in the middle of a word (%i)', (seed) => {
    expect(watched({ ...QUIET, seconds: 20, line: { kbps: 32, loss: 0.02, jumpsPerSecond: 0.2 }, echoDb: -30, reverberationMs: 235, bothSpeak: 0.29, roomDb: -56, seed }).foundAfter).toBeLessThan(3);
  });

  it('says how loud it is although the delay jumps all the time, and says nothing of it where nothing can be told', () => {
    const jumpy = { ...QUIET, line: { kbps: 64, loss: 0.02, jumpsPerSecond: 0.2 }, echoDb: -30, reverberationMs: 370, bothSpeak: 0.34 };
    for (const seed of [60_010, 60_013]) {
      const { call, found } = watched({ ...jumpy, seed });
      const told = found.flatMap(({ levelDb }) => (levelDb === null ? [] : [levelDb + codingLossDb(64) - call.trueDb!]));
      expect(Math.abs(told.at(-1)!), `seed ${seed}, dB`).toBeLessThan(1.5);
    }
    expect(watched({ ...QUIET, seed: 80_003, line: { kbps: 96, loss: 0.02, jumpsPerSecond: 0.04 }, echoDb: -42, roomDb: -58 }).found.map(({ levelDb }) => levelDb).filter((db) => db !== null && db > -36)).toEqual([]);
  });

  it('finds a −40 dB echo within ten seconds', () => {
    expect(watched({ ...QUIET, seed: 4, echoDb: -40 }).foundAfter).toBeLessThan(10);
  });

  it('says nothing of headphones, and nothing of somebody in the same room', () => {
    for (const seed of [6, 7]) expect(watched({ ...QUIET, seed }).found, `seed ${seed}`).toEqual([]);
    expect(watched({ ...QUIET, seed: 8, line: null, sameRoomDb: -12 }).found, 'same room').toEqual([]);
  });
});

describe('watch and canceller as one', () => {
  it.each([2])('what the watch says is enough to cancel by, and the echo is gone from then on (%i)', (seed) => {
    const call = echoCall({ ...QUIET, seed, echoDb: -22, seconds: 45 });
    const { sent, microphone } = atWatchRate(call);
    const [watch, canceller] = [new EchoWatch(), new EchoCanceller(RATE)];
    const out = new Float32Array(call.microphone.length);
    const step = (RATE / WATCH_RATE) * WATCH_STEP;
    let begun = Infinity;
    // Half a second at a time, as a desk does: what was found is told from the next sample on.
    for (let k = 0; (k + 1) * step <= out.length; k++) {
      const part = (samples: Float32Array) => samples.subarray(k * step, (k + 1) * step);
      canceller.hear(part(call.sent), step);
      canceller.process(part(call.microphone), part(out), step);
      const coarse = (samples: Float32Array) => samples.subarray(k * WATCH_STEP, (k + 1) * WATCH_STEP);
      const { echo } = watch.step(coarse(microphone), coarse(sent), 0.9 * Math.min(...call.delaysMs));
      if (!echo) continue;
      if (begun < Infinity) canceller.follow(echo.delayMs);
      else if (echo.levelDb !== null) {
        canceller.begin({ delayMs: echo.delayMs, gainDb: echo.levelDb });
        begun = ((k + 1) * step) / RATE;
      }
    }
    expect(begun, 'found after, s').toBeLessThan(20);
    const later = { call, microphone: call.microphone, out: Float32Array.from(out, (_, i) => out[i + CANCELLER_DELAY] ?? 0) };
    // After each jump it has to be found again: how long that takes depends on who speaks.
    expect(takenAwayDb(later, begun + 6), 'all in all').toBeGreaterThan(10);
    expect(usuallyTakenDb(later, Math.ceil(begun + 6)), 'most of the time').toBeGreaterThan(16);
  });
});

describe('the canceller on recorded voices', () => {
  const uncoded = { ...QUIET, seconds: 30, line: null, echoDb: -20, roomDb: -75 };

  it('takes 25 dB of an echo away, without coding and through it', () => {
    expect(takenAwayDb(cancelled({ ...uncoded, seed: 1 }), 8)).toBeGreaterThan(25);
    expect(takenAwayDb(cancelled({ ...uncoded, seed: 4, line: { kbps: 64, loss: 0, jumpsPerSecond: 0 } }), 8), 'Opus').toBeGreaterThan(25);
    expect(takenAwayDb(cancelled({ ...uncoded, seed: 4, line: { kbps: 64, loss: 0.02, jumpsPerSecond: 0.1 } }), 8), 'Opus with loss, and a jump every five seconds').toBeGreaterThan(15);
  });

  it('leaves a voice nearer to itself than the echo would while both speak, and untouched while nobody else does', () => {
    const { call, out } = cancelled({ ...uncoded, seed: 3, bothSpeak: 0.45 });
    const speaks = (i: number): boolean => i > 8 * RATE && i + 4096 < out.length && call.nearSpeaks(i - 2880) && power(call.near, i, 1024) > 3e-5;
    const sends = (i: number): boolean => power(call.sent, i - 6000, 2400) > 1e-5;
    const both = (i: number): boolean => speaks(i) && sends(i);
    expect(logSpectralDistance(call.near, out, both)).toBeLessThan(logSpectralDistance(call.near, call.microphone, both));
    expect(logSpectralDistance(call.near, out, (i) => speaks(i) && !sends(i))).toBeLessThan(0.2);
  });

  it.skipIf(!haveUsualCanceller())('is at least 6 dB ahead of the canceller everybody has, and leaves the voice nearer to itself', () => {
    const [ours, theirs]: Record<'taken' | 'apart', number[]>[] = [{ taken: [], apart: [] }, { taken: [], apart: [] }];
    for (const seed of [2, 7]) {
      const result = cancelled({ ...uncoded, seconds: 25, seed, bothSpeak: 0.3 });
      const { call, out } = result;
      const late = Math.round((call.delaysMs[0] / 1000 - 0.03) * RATE);
      const usual = usuallyCancelled(call.microphone, call.sent.map((_, i) => call.sent[i - late] ?? 0));
      const both = (i: number): boolean => i > 8 * RATE && i + 4096 < out.length && call.nearSpeaks(i - 2880) && power(call.near, i, 1024) > 3e-5 && power(call.sent, i - 6000, 2400) > 1e-5;
      ours.taken.push(takenAwayDb(result, 8));
      ours.apart.push(logSpectralDistance(call.near, out, both));
      theirs.taken.push(takenAwayDb({ ...result, out: Float32Array.from(usual) }, 8));
      theirs.apart.push(logSpectralDistance(call.near, usual, both));
      expect(ours.apart.at(-1), `seed ${seed}: no further from the voice than with the echo in`).toBeLessThan(logSpectralDistance(call.near, call.microphone, both) + 0.4);
    }
    ours.taken.forEach((db, k) => expect(db, 'taken away, dB').toBeGreaterThan(theirs.taken[k] + 6));
    ours.apart.forEach((db, k) => expect(db, 'distance').toBeLessThan(theirs.apart[k]));
  });

  it('lets a voice alone once the echo is gone, and takes it away again when it is back', () => {
    const options = { ...uncoded, seed: 3, seconds: 40, bothSpeak: 0.2 };
    const { near } = echoCall(options);
    const result = cancelled(options, (microphone) => microphone.map((x, i) => (i < 20 * RATE ? near[i] : x)));
    let [changed, whole] = [0, 0];
    for (let i = 10 * RATE; i < 20 * RATE; i++) {
      if (!result.call.nearSpeaks(i - 2880)) continue;
      changed += (result.out[i] - near[i]) ** 2;
      whole += near[i] ** 2;
    }
    expect(10 * Math.log10(changed / whole), 'changed, dB').toBeLessThan(-50);
    expect(takenAwayDb(result, 23, 40), 'taken away, dB').toBeGreaterThan(20);
  });

  it('leaves the noise of a room where it is while the others speak', () => {
    const { call, out } = cancelled({ ...uncoded, seed: 5, bothSpeak: 0, roomDb: -42, echoDb: -30 });
    const quiet = (i: number): boolean => i > 8 * RATE && ![0, 4800, 12_000, 24_000].some((ago) => call.nearSpeaks(i - ago));
    const levels = (samples: Float32Array, talks: boolean): number => {
      const found: number[] = [];
      for (let i = 0; i + 4800 < samples.length; i += 4800) if (quiet(i) && quiet(i + 4800) && power(call.sent, i - 6000, 2400) > 1e-4 === talks) found.push(10 * Math.log10(power(samples, i, 4800)));
      return found.sort((a, b) => a - b)[Math.floor(found.length / 2)];
    };
    expect(Math.abs(levels(out, true) - levels(call.near, true))).toBeLessThan(5);
  });

  it('is back within half a second of the others’ speech after a jump', () => {
    const jumps = (same: Float32Array<ArrayBuffer>) => same.map((x, i) => (i < 20 * RATE ? x : same[i - 0.018 * RATE]));
    const result = cancelled({ ...uncoded, seed: 1, bothSpeak: 0, seconds: 30 }, jumps);
    expect(takenAwayDb(result, 10, 20)).toBeGreaterThan(25);
    expect(takenAwayDb(result, 20.5, 30)).toBeGreaterThan(20);
  });
});
