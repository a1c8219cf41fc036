import type { CompiledProcessing } from '../hearing/processing';
import { CLOSED_STRIP } from '../strip/settings';
import type { Kernel, KernelStereo } from '../kernel/kernel';
import type { Mixer } from './mixer';
import { NOISE_FRAME, type Suppressor } from './strip/noise-suppression';
import { Strip, type StripReduction } from './strip/strip';

/**
 * Processes sources between tap and crosspoint: what the mixes get is a copy, the tap stays as it came in. To whatever comes
 * before it this stands in the mixer's place.
 */
export interface Strips extends Pick<Mixer, 'takeFrom'> {
  set(processing: readonly CompiledProcessing[]): void;
  process(length: number): void;
  /** A source as the mixes get it in this block. */
  processed(source: number): KernelStereo;
  /** Brings what suppresses noise; until then voices that ask for it pass as they are. */
  suppressWith(make: () => Suppressor): void;
  readReduction(source: number, into: StripReduction): void;
}

export interface StripsOptions {
  kernel: Kernel;
  inputs: readonly KernelStereo[];
  /** One for each source. */
  copies: readonly KernelStereo[];
  next: Pick<Mixer, 'takeFrom'>;
  maxBlock: number;
  sampleRate: number;
}

/** Voices whose noise is suppressed begin their frames so far apart, samples. */
const PHASE = 128;

export function createStrips({ kernel, inputs, copies, next, maxBlock, sampleRate }: StripsOptions): Strips {
  const strips = inputs.map(() => new Strip(kernel, maxBlock, sampleRate));
  const scratch = kernel.stereo();
  const active = new Uint8Array(inputs.length);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);
  const suppressors: (Suppressor | null)[] = inputs.map(() => null);
  let make: (() => Suppressor) | null = null;
  let settings: readonly CompiledProcessing[] = [];

  /** Each voice that asks gets a suppressor, and keeps it: making one takes longer than a block has. */
  const provide = (): void => {
    if (!make) return;
    for (const { source, strip } of settings) {
      if (!strip.noise.on || suppressors[source]) continue;
      const before = suppressors.filter((one) => one !== null).length;
      suppressors[source] = make();
      strips[source].suppressWith(suppressors[source], (before * PHASE) % NOISE_FRAME);
    }
  };

  return {
    takeFrom(source, place) {
      upstream[source] = place;
      if (active[source] === 0) next.takeFrom(source, place);
    },
    set(processing) {
      settings = processing;
      provide();
      strips.forEach((strip, n) => strip.set(processing.find(({ source }) => source === n)?.strip ?? CLOSED_STRIP));
    },
    process(length) {
      for (let n = 0; n < inputs.length; n++) {
        const strip = strips[n];
        if (strip.atRest()) {
          if (active[n] === 1) next.takeFrom(n, upstream[n]);
          active[n] = 0;
          continue;
        }
        strip.process(upstream[n] ?? inputs[n], copies[n], scratch, length);
        if (active[n] === 0) next.takeFrom(n, copies[n]);
        active[n] = 1;
      }
    },
    processed: (source) => (active[source] === 1 ? copies[source] : (upstream[source] ?? inputs[source])),
    suppressWith(maker) {
      make = maker;
      provide();
    },
    readReduction: (source, into) => strips[source].readReduction(into),
  };
}
