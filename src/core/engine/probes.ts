import type { KernelStereo } from '../kernel/kernel';
import type { Mixer, Stereo } from './mixer';

/** A known sound for measuring, outside the plan. */
export interface Probe {
  /** It takes a source's place in all mixes, or is given to one listener alone. */
  of: 'source' | 'listener';
  slot: number;
  /** Mono; goes round as long as it lasts. None: silence in the source's place. */
  period: Float32Array | null;
}

/**
 * Probes of one moment. A source that a probe replaces is still what its track and its meter get: the tap lies before.
 * To whatever processes sources this stands in the mixer's place.
 */
export interface Probes extends Pick<Mixer, 'takeFrom'> {
  /**
   * From the next sample on, for so many; what ran before ends. Begins and ends within 10 ms.
   * @throws {RangeError} for a place that is not there, or an empty period
   */
  start(probes: readonly Probe[], samples: number): void;
  /** Ends what runs within 10 ms. */
  stop(): void;
  /** Samples that are still to come; 0 when nothing runs. */
  left(): number;
  /** Before the mixes are made. */
  replace(length: number): void;
  /** When they are made. */
  add(outputs: readonly Stereo[], length: number): void;
}

export interface ProbesOptions {
  inputs: readonly KernelStereo[];
  /** One for each source. */
  replaced: readonly KernelStereo[];
  listeners: number;
  mixer: Mixer;
  sampleRate: number;
}

const FADE_SECONDS = 0.01;

export function createProbes({ inputs, replaced, listeners, mixer, sampleRate }: ProbesOptions): Probes {
  const fade = Math.round(FADE_SECONDS * sampleRate);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);
  /** Those who get a source as it comes in get the probe as well. */
  const give = (slot: number, place: KernelStereo | null, raw: KernelStereo | null): void => {
    mixer.takeFrom(slot, place);
    mixer.takeRawFrom(slot, raw);
  };
  let running: readonly Probe[] = [];
  let samples = 0;
  let done = 0;

  const end = (): void => {
    for (const { of, slot } of running) if (of === 'source') give(slot, upstream[slot], null);
    running = [];
    samples = done = 0;
  };
  /** Whether nothing fades in this block: then each sample is a copy. An audio thread whose code was not compiled to its best yet must keep up as well. */
  const isWhole = (length: number): boolean => done + 1 >= fade && samples - done - length >= fade;
  /** How much of a probe there is at a sample of its time, 0 to 1. */
  const presence = (at: number): number => Math.max(0, Math.min(1, (at + 1) / fade, (samples - at) / fade));

  return {
    takeFrom(source, place) {
      upstream[source] = place;
      if (!running.some(({ of, slot }) => of === 'source' && slot === source)) mixer.takeFrom(source, place);
    },
    start(probes, forSamples) {
      for (const { of, slot, period } of probes) {
        if (!Number.isInteger(slot) || slot < 0 || slot >= (of === 'source' ? inputs.length : listeners)) throw new RangeError(`There is no ${of} ${slot} to probe.`);
        if (period?.length === 0) throw new RangeError('A probe needs a period of at least one sample.');
      }
      end();
      running = probes;
      samples = forSamples;
      for (const { of, slot } of probes) if (of === 'source') give(slot, replaced[slot], replaced[slot]);
    },
    stop() {
      samples = Math.min(samples, done + fade);
    },
    left: () => samples - done,
    replace(length) {
      for (let k = 0; k < running.length; k++) {
        const { of, slot, period } = running[k];
        if (of !== 'source') continue;
        const from = upstream[slot] ?? inputs[slot];
        const into = replaced[slot];
        if (isWhole(length)) {
          copyRound(period, done, into, length);
          continue;
        }
        for (let i = 0; i < length; i++) {
          const part = presence(done + i);
          const probe = period === null ? 0 : part * period[(done + i) % period.length];
          into.left[i] = probe + (1 - part) * from.left[i];
          into.right[i] = probe + (1 - part) * from.right[i];
        }
      }
    },
    add(outputs, length) {
      if (running.length === 0) return;
      for (let k = 0; k < running.length; k++) {
        const { of, slot, period } = running[k];
        if (of !== 'listener' || period === null) continue;
        const { left, right } = outputs[slot];
        if (isWhole(length)) {
          addRound(period, done, outputs[slot], length);
          continue;
        }
        for (let i = 0; i < length; i++) {
          const probe = presence(done + i) * period[(done + i) % period.length];
          left[i] += probe;
          right[i] += probe;
        }
      }
      done += length;
      if (done >= samples) end();
    },
  };
}

/** What goes round from a sample of its time on; silence where nothing does. */
function copyRound(period: Float32Array | null, from: number, { left, right }: Stereo, length: number): void {
  if (period === null) {
    left.fill(0, 0, length);
    right.fill(0, 0, length);
    return;
  }
  for (let i = 0, at = from % period.length; i < length; i++) {
    left[i] = right[i] = period[at];
    if (++at === period.length) at = 0;
  }
}

function addRound(period: Float32Array, from: number, { left, right }: Stereo, length: number): void {
  for (let i = 0, at = from % period.length; i < length; i++) {
    left[i] += period[at];
    right[i] += period[at];
    if (++at === period.length) at = 0;
  }
}
