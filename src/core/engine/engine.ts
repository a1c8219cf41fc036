import type { CompiledPlan } from '../hearing/compile';
import { createLevelMeters, type LevelMeters } from './level-meter';
import { createLimiter } from './limiter';
import { createCancellers, type Cancelling } from './cancellers';
import { createKernel } from '../kernel/kernel';
import { createMixer, mixerBytes, type Stereo } from './mixer';
import { createOffsets } from './offsets';
import { createProbes, type Probe } from './probes';
import { createRiding } from './riding';
import { createSourceMeters, sourceMetersBytes } from './source-meters';
import { STRIP_BYTES, type StripReduction } from './strip/strip';
import type { Suppressor } from './strip/noise-suppression';
import { createStrips } from './strips';

/** How long every gain takes to move, so that no change clicks. */
export const RAMP_SECONDS = 0.01;

export interface EngineOptions {
  sources: number;
  listeners: number;
  /** Longest block {@link Engine.process} will be given, samples. */
  maxBlock: number;
  sampleRate?: number;
}

/**
 * The block engine: stereo sources in, stereo listeners out, by one compiled plan. Write a block
 * into `inputs`, call `process`, read `outputs` and the taps. Nothing is allocated in `process`.
 */
export interface Engine {
  readonly inputs: readonly Stereo[];
  readonly outputs: readonly Stereo[];
  /**
   * What tracks record: each source straight at the input, before any gain, with only impossible
   * samples silenced. The same arrays as `inputs`.
   */
  readonly taps: readonly Stereo[];
  /** A voice as the mixes get it, processed where the plan says so; valid until the next block. */
  processed(source: number): Stereo;
  /** Brings what suppresses noise; until then voices that ask for it pass as they are. */
  suppressWith(make: () => Suppressor): void;
  /** Whose loudness behind its strip is measured; -1 for nobody's. */
  compare(source: number): void;
  /** Short-term loudness of that source behind its strip, LUFS; NaN until it was heard for 3 s. */
  comparedLoudness(): number;
  /** What the strip of a source turned down since this was last read. */
  readReduction(source: number, into: StripReduction): void;
  readonly sourceMeters: LevelMeters;
  readonly listenerMeters: LevelMeters;
  /** Samples processed: the session clock. */
  clock(): number;
  /** Swaps the whole plan at the next sample; every gain moves there in 10 ms, or slower if asked. */
  setPlan(plan: CompiledPlan, rampSeconds?: number): void;
  process(length: number): void;
  /** Sends known sounds for so many samples, outside the plan. @throws {RangeError} for a place that is not there */
  probe(probes: readonly Probe[], samples: number): void;
  stopProbes(): void;
  /** Takes an echo out of what the mixes get of a source, or follows it elsewhere; 21 ms late. @throws {RangeError} for a place that is not there */
  cancel(cancelling: Cancelling): void;
  stopCancelling(source: number): void;
  /** Samples of the probes that are still to come. */
  probesLeft(): number;
  /** Gain of a crosspoint where its ramp has it now. */
  gainNow(source: number, listener: number): number;
  /** Gain by which the voices hold a source down now, linear. */
  duckNow(source: number): number;
  /** Short-term loudness of a source, LUFS. */
  sourceLoudness(source: number): number;
  /** NaN and infinite samples silenced at the door of one source so far. */
  nonFiniteSamples(source: number): number;
  /** Samples a listener's limiter has turned down so far. */
  limitedSamples(listener: number): number;
}

/** @throws {RangeError} when a count or the block length is not a positive whole number */
export function createEngine(options: EngineOptions): Engine {
  const { sources, listeners, maxBlock, sampleRate = 48000 } = options;
  for (const [field, value] of Object.entries({ sources, listeners, maxBlock })) {
    if (!Number.isInteger(value) || value < 1) {
      throw new RangeError(`${field} must be a positive whole number, received ${value}.`);
    }
  }
  const kernel = createKernel(maxBlock, memoryBytes(options));
  const inputs = Array.from({ length: sources }, () => kernel.stereo());
  const outputs = Array.from({ length: listeners }, () => kernel.stereo());
  const mixer = createMixer(kernel, inputs, outputs);
  const stage = () => Array.from({ length: sources }, () => kernel.stereo());
  const [cancelled, processed, ridden, delayed, replaced] = [stage(), stage(), stage(), stage(), stage()];
  const probes = createProbes({ inputs, replaced, listeners, mixer, sampleRate });
  const offsets = createOffsets({ inputs, delayed, mixer: probes, sampleRate });
  // The inserts of a source end with its going under the voices.
  const riding = createRiding({ inputs, ridden, next: offsets, maxBlock, sampleRate });
  const strips = createStrips({ kernel, inputs, copies: processed, next: riding, maxBlock, sampleRate });
  const cancellers = createCancellers({ inputs, outputs, cancelled, strips, maxBlock, sampleRate });
  const limiters = Array.from({ length: listeners }, () => createLimiter(sampleRate));
  let compared = -1;
  const sourceMeters = createLevelMeters(sources);
  const atTheDoor = createSourceMeters(kernel, inputs, sourceMeters);
  const listenerMeters = createLevelMeters(listeners);
  const targets = new Float32Array(4 * sources * listeners);
  const sumAddress = kernel.reserve(8);
  let clock = 0;
  /** Places beyond those any plan has had are silent, and cost nothing. */
  let usedSources = 0;
  let usedListeners = 0;

  /** Meters one listener; returns the peak in this block. */
  const meter = (m: number, length: number): number => {
    const peak = kernel.measure(outputs[m].address, kernel.side, length, sumAddress);
    if (peak > listenerMeters.peak[m]) listenerMeters.peak[m] = peak;
    listenerMeters.sumOfSquares[m] += kernel.doubles[sumAddress / 8];
    return peak;
  };

  return {
    inputs,
    outputs,
    taps: inputs,
    processed: strips.processed,
    suppressWith: strips.suppressWith,
    readReduction: strips.readReduction,
    compare(source) {
      if (source !== compared) atTheDoor.resetOther();
      compared = source;
    },
    comparedLoudness: atTheDoor.otherLoudness,
    sourceMeters,
    listenerMeters,
    clock: () => clock,
    setPlan(plan, rampSeconds = RAMP_SECONDS) {
      if (plan.sourceIds.length > sources || plan.listenerIds.length > listeners) {
        throw new RangeError(
          `The plan has ${plan.sourceIds.length} sources and ${plan.listenerIds.length} listeners; ` +
            `this engine holds ${sources} and ${listeners}.`,
        );
      }
      usedSources = Math.max(usedSources, plan.sourceIds.length);
      usedListeners = Math.max(usedListeners, plan.listenerIds.length);
      targets.fill(0);
      for (let m = 0; m < plan.listenerIds.length; m++) {
        for (let k = plan.first[m]; k < plan.first[m + 1]; k++) {
          const place = 2 * (m * 2 * sources + plan.source[k] + (plan.raw[k] === 1 ? sources : 0));
          targets[place] = plan.gainLeft[k];
          targets[place + 1] = plan.gainRight[k];
        }
      }
      riding.set(plan.ducking);
      strips.set(plan.processing);
      offsets.set(plan.offsets);
      mixer.setTargets(targets, Math.max(1, Math.round(Math.max(RAMP_SECONDS, rampSeconds) * sampleRate)));
    },
    process(length) {
      atTheDoor.process(usedSources, length);
      cancellers.process(length);
      strips.process(length);
      if (compared >= 0) atTheDoor.meterOther(strips.processed(compared), length);
      riding.process(length);
      offsets.process(length);
      probes.replace(length);
      mixer.mix(length);
      probes.add(outputs, length);
      for (let m = 0; m < usedListeners; m++) {
        const output = outputs[m];
        limiters[m].process(output.left, output.right, length, meter(m, length));
      }
      cancellers.hear(length);
      sourceMeters.count(length);
      listenerMeters.count(length);
      clock += length;
    },
    cancel: cancellers.start,
    stopCancelling: cancellers.stop,
    probe: probes.start,
    stopProbes: probes.stop,
    probesLeft: probes.left,
    gainNow: mixer.gainNow,
    duckNow: riding.gainNow,
    sourceLoudness: atTheDoor.loudness,
    nonFiniteSamples: atTheDoor.nonFiniteSamples,
    limitedSamples: (listener) => limiters[listener].limitedSamples(),
  };
}

function memoryBytes({ sources, listeners, maxBlock }: EngineOptions): number {
  const signals = (6 * sources + listeners + 1) * (2 * (maxBlock * 4 + 16));
  return signals + mixerBytes(sources, listeners) + sourceMetersBytes(sources, maxBlock) + sources * STRIP_BYTES + 64;
}
