import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gainToDb, powerToDb } from '../../src/core/dsp/decibels';
import { compiledGain } from '../../src/core/hearing/compile';
import { createEngine } from '../../src/core/engine/engine';
import type { Stereo } from '../../src/core/engine/mixer';
import { createSimulatedCall, type SimulatedCallOptions } from '../../src/core/practice/simulated-call';
import { decimalNumber, parseOptions, UsageError, wholeNumber } from '../arguments';
import { openWavFile } from '../wav-file';

export const usage =
  'lab call --callers N [--seed S] [--seconds T] [--sounds K] [--loudspeakers I,J] [--out DIR] [--json]';

const BLOCK = 128;

interface Settings extends SimulatedCallOptions {
  frames: number;
  out: string | null;
}

/** Runs a simulated call, writes what everybody sent and heard, and says what was measured. */
export function run(words: readonly string[]): object {
  const settings = readSettings(words);
  const result = simulate(settings, settings.out);
  const reference = settings.loudspeakers.length > 0 ? settings : null;
  return {
    callers: result.callers.map((caller, index) => ({
      ...caller,
      echoThroughLoudspeakersDb: reference ? echoOf(reference, result, index + 1) : null,
      onLoudspeakers: settings.loudspeakers.includes(index + 1),
    })),
    tracks: result.tracks,
    listeners: result.listeners,
    lengthSamples: settings.frames,
    lengthSeconds: settings.frames / 48000,
    secondsPerSecond: result.secondsPerSecond,
    seed: settings.seed,
    out: settings.out,
  };
}

function readSettings(words: readonly string[]): Settings {
  const options = parseOptions(words, ['callers', 'seed', 'seconds', 'sounds', 'loudspeakers', 'out'], ['json']);
  if (!options.has('callers')) throw new UsageError('--callers is missing.');
  const callers = wholeNumber(options, 'callers', { from: 1, to: 30, otherwise: 3 });
  const loudspeakers = (options.get('loudspeakers') ?? '')
    .split(',')
    .filter((entry) => entry !== '')
    .map((entry) => {
      const number = Number(entry);
      if (!Number.isInteger(number) || number < 1 || number > callers) {
        throw new UsageError(`--loudspeakers takes caller numbers from 1 to ${callers}, received ${entry}.`);
      }
      return number;
    });
  return {
    callers,
    loudspeakers,
    seed: wholeNumber(options, 'seed', { from: 0, to: 4294967295, otherwise: 1 }),
    sounds: wholeNumber(options, 'sounds', { from: 0, to: 8, otherwise: 1 }),
    frames: Math.round(48000 * decimalNumber(options, 'seconds', { above: 0, to: 7200, otherwise: 10 })),
    out: options.get('out') ?? null,
  };
}

/** One run of the whole call. With `out`, every signal is written to a file there. */
function simulate(settings: Settings, out: string | null) {
  const call = createSimulatedCall(settings, BLOCK);
  const { compiled, session } = call;
  const { engine } = session;
  const callerSeats = call.plan.seats.filter(({ role }) => role === 'caller');
  const files = out === null ? null : openFiles(out, compiled.sourceIds, compiled.listenerIds);
  const before = engine.inputs.map(copyOf);
  const difference = compiled.sourceIds.map(() => 0);
  const energy = compiled.sourceIds.map(() => 0);
  const alone = callerSeats.map(({ id }) => ownVoiceAlone(call, id));
  const returns = callerSeats.map(() => new Float32Array(settings.frames));
  let computing = 0;

  for (let done = 0; done < settings.frames; done += BLOCK) {
    const length = Math.min(BLOCK, settings.frames - done);
    let began = performance.now();
    call.fill(length);
    computing += performance.now() - began;
    engine.inputs.forEach((input, n) => copyInto(before[n], input));
    began = performance.now();
    session.mix(length);
    computing += performance.now() - began;
    engine.taps.forEach((tap, n) => {
      for (let i = 0; i < length; i++) {
        const step = Math.abs(tap.left[i] - before[n].left[i]) + Math.abs(tap.right[i] - before[n].right[i]);
        difference[n] = Math.max(difference[n], step);
        energy[n] += tap.left[i] ** 2 + tap.right[i] ** 2;
      }
    });
    alone.forEach((check) => check.process(engine.taps, length));
    callerSeats.forEach((seat, k) => {
      const { left } = engine.outputs[compiled.listenerIds.indexOf(`return:${seat.id}`)];
      returns[k].set(left.subarray(0, length), done);
    });
    files?.write(before, engine.taps, engine.outputs, length);
  }
  files?.close();
  if (out !== null) writePlan(out, call, settings);
  return {
    callers: callerSeats.map((seat, k) => ({
      caller: seat.id,
      ownVoiceInOwnReturnDb: finiteOrNull(alone[k].levelDb()),
    })),
    tracks: compiled.sourceIds.map((id, n) => ({
      source: id,
      largestDifference: difference[n],
      rmsDb: finiteOrNull(powerToDb(energy[n] / (2 * settings.frames))),
      lengthSamples: settings.frames,
      nonFiniteSamples: engine.nonFiniteSamples(n),
    })),
    listeners: compiled.listenerIds.map((id, m) => ({
      listener: id,
      lengthSamples: settings.frames,
      limitedSamples: engine.limitedSamples(m),
    })),
    returns,
    secondsPerSecond: settings.frames / 48 / computing,
  };
}

/** A second engine with the same plan that is given one caller's sound and nobody else's. */
function ownVoiceAlone(call: ReturnType<typeof createSimulatedCall>, seat: string) {
  const { compiled } = call;
  const engine = createEngine({
    sources: compiled.sourceIds.length,
    listeners: compiled.listenerIds.length,
    maxBlock: BLOCK,
  });
  engine.setPlan(compiled);
  const slot = compiled.sourceIds.indexOf(`voice:${seat}`);
  const place = compiled.listenerIds.indexOf(`return:${seat}`);
  let sent = 0;
  let heard = 0;
  return {
    process(taps: readonly Stereo[], length: number) {
      copyInto(engine.inputs[slot], taps[slot]);
      engine.process(length);
      for (let i = 0; i < length; i++) {
        sent += taps[slot].left[i] ** 2;
        heard += engine.outputs[place].left[i] ** 2;
      }
    },
    levelDb: () => (sent === 0 ? -Infinity : powerToDb(heard / sent)),
  };
}

/**
 * What a caller's own voice adds to their own return by way of other people's loudspeakers: the
 * return with their voice minus the return of the same call without it, against their own level.
 */
function echoOf(settings: Settings, full: ReturnType<typeof simulate>, caller: number): number | null {
  const silent = simulate({ ...settings, withoutVoice: caller }, null);
  let echo = 0;
  for (let i = 0; i < settings.frames; i++) {
    echo += (full.returns[caller - 1][i] - silent.returns[caller - 1][i]) ** 2;
  }
  const own = full.tracks.find(({ source }) => source === `voice:caller-${caller}`)!.rmsDb ?? -Infinity;
  return finiteOrNull(powerToDb(echo / settings.frames) - own);
}

function openFiles(out: string, sources: string[], listeners: string[]) {
  mkdirSync(out, { recursive: true });
  const open = (kind: string, ids: string[]) => ids.map((id) => openWavFile(join(out, fileName(kind, id)), 2));
  const inputs = open('input', sources);
  const tracks = open('track', sources);
  const heard = open('listener', listeners);
  const writeAll = (files: typeof inputs, blocks: readonly Stereo[], length: number) =>
    files.forEach((file, k) => file.write([blocks[k].left, blocks[k].right], length));
  return {
    write(before: Stereo[], taps: readonly Stereo[], outputs: readonly Stereo[], length: number) {
      writeAll(inputs, before, length);
      writeAll(tracks, taps, length);
      writeAll(heard, outputs, length);
    },
    close: () => [...inputs, ...tracks, ...heard].forEach((file) => file.close()),
  };
}

function writePlan(out: string, call: ReturnType<typeof createSimulatedCall>, settings: Settings): void {
  const { compiled } = call;
  const plan = {
    sampleRate: 48000,
    lengthSamples: settings.frames,
    seed: settings.seed,
    loudspeakers: settings.loudspeakers.map((number) => `voice:caller-${number}`),
    sources: compiled.sourceIds.map((id) => ({
      id,
      input: fileName('input', id),
      track: fileName('track', id),
    })),
    listeners: compiled.listenerIds.map((id) => ({ id, file: fileName('listener', id) })),
    crosspoints: compiled.listenerIds.flatMap((listener) =>
      compiled.sourceIds.flatMap((source) => {
        const gain = compiledGain(compiled, source, listener);
        return gain === 0 ? [] : [{ source, listener, db: gainToDb(gain) }];
      }),
    ),
  };
  writeFileSync(join(out, 'plan.json'), `${JSON.stringify(plan, null, 2)}\n`);
}

const fileName = (kind: string, id: string): string => `${kind}-${id.replace(':', '-')}.wav`;
const finiteOrNull = (db: number): number | null => (Number.isFinite(db) ? db : null);
const copyOf = (block: Stereo): Stereo => ({ left: block.left.slice(), right: block.right.slice() });
const copyInto = (to: Stereo, from: Stereo): void => {
  to.left.set(from.left);
  to.right.set(from.right);
};
