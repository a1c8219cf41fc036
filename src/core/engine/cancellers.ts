import { CANCELLER_DELAY, EchoCanceller } from '../echo/canceller';
import type { KernelStereo } from '../kernel/kernel';
import type { Mixer, Stereo } from './mixer';

/** An echo to be taken out of a source: what this listener is sent comes back in it. */
export interface Cancelling {
  source: number;
  listener: number;
  delayMs: number;
  /** dB */
  gainDb: number;
}

/**
 * Takes echoes out of what the mixes get of a source, before anything else is done to it; the tap stays as it came in. To
 * whatever gives sources this stands before the strips.
 */
export interface Cancellers {
  /** Begins for a source, or follows its echo elsewhere. @throws {RangeError} for a place that is not there */
  start(cancelling: Cancelling): void;
  stop(source: number): void;
  process(length: number): void;
  /** When the mixes are made: what was sent in this block. */
  hear(length: number): void;
}

export interface CancellersOptions {
  inputs: readonly KernelStereo[];
  outputs: readonly Stereo[];
  /** One for each source. */
  cancelled: readonly KernelStereo[];
  strips: Pick<Mixer, 'takeFrom'>;
  maxBlock: number;
  sampleRate: number;
}

/** In which the voice goes over from as it came in, and back. */
const FADE_SECONDS = 0.02;

interface Running {
  canceller: EchoCanceller;
  listener: number;
  /** Samples until it has something to give. */
  warming: number;
  wanted: boolean;
  /** How much of it is in what the mixes get, 0 to 1. */
  share: number;
}

export function createCancellers({ inputs, outputs, cancelled, strips, maxBlock, sampleRate }: CancellersOptions): Cancellers {
  const running: (Running | null)[] = inputs.map(() => null);
  const mono = new Float32Array(maxBlock);
  const clean = new Float32Array(maxBlock);
  const step = 1 / (FADE_SECONDS * sampleRate);

  const give = (n: number, one: Running, length: number): void => {
    const { left, right } = inputs[n];
    for (let i = 0; i < length; i++) mono[i] = 0.5 * (left[i] + right[i]);
    one.canceller.process(mono, clean, length);
    const to = cancelled[n];
    let share = one.share;
    for (let i = 0; i < length; i++) {
      const ready = one.wanted && one.warming <= i;
      share = ready ? Math.min(1, share + step) : Math.max(0, share - step);
      to.left[i] = left[i] + share * (clean[i] - left[i]);
      to.right[i] = right[i] + share * (clean[i] - right[i]);
    }
    one.share = share;
    one.warming = Math.max(0, one.warming - length);
  };

  /** Each works at the end of a block of its own: those of neighbours fall into different ones of the engine's. */
  const newCanceller = (source: number): EchoCanceller => {
    const canceller = new EchoCanceller(sampleRate, maxBlock);
    mono.fill(0);
    for (let k = 0; k < source % 4; k++) {
      canceller.hear(mono, maxBlock);
      canceller.process(mono, clean, maxBlock);
    }
    return canceller;
  };

  return {
    start({ source, listener, delayMs, gainDb }) {
      if (!inputs[source] || !outputs[listener]) throw new RangeError(`There is no source ${source} or no listener ${listener} to cancel an echo of.`);
      const had = running[source];
      if (had?.wanted && had.listener === listener) return had.canceller.follow(delayMs);
      const canceller = had?.canceller ?? newCanceller(source);
      canceller.begin({ delayMs, gainDb });
      running[source] = { canceller, listener, warming: CANCELLER_DELAY, wanted: true, share: had?.share ?? 0 };
      strips.takeFrom(source, cancelled[source]);
    },
    stop(source) {
      const one = running[source];
      if (one) one.wanted = false;
    },
    process(length) {
      for (let n = 0; n < running.length; n++) {
        const one = running[n];
        if (!one) continue;
        give(n, one, length);
        if (one.wanted || one.share > 0) continue;
        running[n] = null;
        strips.takeFrom(n, null);
      }
    },
    hear(length) {
      for (let n = 0; n < running.length; n++) {
        const one = running[n];
        if (!one) continue;
        const { left, right } = outputs[one.listener];
        for (let i = 0; i < length; i++) mono[i] = 0.5 * (left[i] + right[i]);
        one.canceller.hear(mono, length);
      }
    },
  };
}
