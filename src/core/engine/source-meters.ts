import type { Kernel, KernelStereo } from '../kernel/kernel';
import type { LevelMeters } from './level-meter';
import { createLoudnessMeter, METER_BYTES, type LoudnessMeter } from './loudness-meter';

/** Peak, level and loudness of all sources at the door, where impossible samples are silenced; and of one behind its strip. */
export interface SourceMeters {
  /** Meters the first `used` sources. */
  process(used: number, length: number): void;
  /** Meters a signal that is no source, after {@link SourceMeters.resetOther} another one. */
  meterOther(signal: KernelStereo, length: number): void;
  resetOther(): void;
  /** Short-term, LUFS. */
  loudness(source: number): number;
  /** NaN until it was heard for 3 s. */
  otherLoudness(): number;
  /** NaN and infinite samples silenced at the door of one source so far. */
  nonFiniteSamples(source: number): number;
}

/** Memory the meters need, bytes. */
export const sourceMetersBytes = (sources: number, maxBlock: number): number => (sources + 2) * METER_BYTES + 2 * (maxBlock * 4 + 16) + 16;

export function createSourceMeters(kernel: Kernel, inputs: readonly KernelStereo[], levels: LevelMeters): SourceMeters {
  const meters = inputs.map(() => createLoudnessMeter(kernel));
  const other = createLoudnessMeter(kernel);
  // Stands in where there is no second one: the kernel meters two at a time.
  const nobody = { signal: kernel.stereo(), meter: createLoudnessMeter(kernel) };
  const nonFinite = new Float64Array(inputs.length);

  const sum = kernel.reserve(8);

  const weighTwo = (one: KernelStereo, meter: LoudnessMeter, second: KernelStereo, secondMeter: LoudnessMeter, length: number): void => {
    kernel.weighTwo(one.address, second.address, kernel.side, length, meter.address, secondMeter.address);
    meter.count(length);
    secondMeter.count(length);
  };

  /** Peak and level of a source; returns the peak. */
  const measure = (n: number, length: number): number => {
    let peak = kernel.measure(inputs[n].address, kernel.side, length, sum);
    if (!(kernel.doubles[sum / 8] < Infinity)) {
      nonFinite[n] += silenceNonFinite(inputs[n].left, length) + silenceNonFinite(inputs[n].right, length);
      peak = kernel.measure(inputs[n].address, kernel.side, length, sum);
    }
    if (peak > levels.peak[n]) levels.peak[n] = peak;
    levels.sumOfSquares[n] += kernel.doubles[sum / 8];
    return peak;
  };

  return {
    process(used, length) {
      let waiting = -1;
      for (let n = 0; n < used; n++) {
        if (measure(n, length) === 0) meters[n].countSilence(length);
        else if (waiting < 0) waiting = n;
        else {
          weighTwo(inputs[waiting], meters[waiting], inputs[n], meters[n], length);
          waiting = -1;
        }
      }
      if (waiting >= 0) weighTwo(inputs[waiting], meters[waiting], nobody.signal, nobody.meter, length);
    },
    meterOther: (signal, length) => weighTwo(signal, other, nobody.signal, nobody.meter, length),
    loudness: (source) => meters[source].shortTerm(),
    resetOther: other.reset,
    otherLoudness: () => (other.whole() ? other.shortTerm() : NaN),
    nonFiniteSamples: (source) => nonFinite[source],
  };
}

function silenceNonFinite(samples: Float32Array, length: number): number {
  let found = 0;
  for (let i = 0; i < length; i++) {
    if (!Number.isFinite(samples[i])) {
      samples[i] = 0;
      found++;
    }
  }
  return found;
}
