import type { Stereo } from '../kernel/stereo';
import type { Kernel, KernelStereo } from '../kernel/kernel';

export type { Stereo };

/**
 * The crosspoint matrix: for each listener the sum of its operands, with gains that move in a
 * straight line. All gains of a plan arrive together and start to move at the same sample.
 */
export interface Mixer {
  /**
   * New targets for all crosspoints at once, reached after `rampSamples`: left and right gain of
   * source n into listener m at `targets[2 * (m * 2 * sources + n)]` and the place after it; of the same source as it comes
   * in, before anything is done to it, `2 * sources` places further on.
   */
  setTargets(targets: Float32Array, rampSamples: number): void;
  /** Takes a source from another place in memory from the next block on; null for its input again. */
  takeFrom(source: number, place: KernelStereo | null): void;
  /** The same for those who are given it as it comes in. */
  takeRawFrom(source: number, place: KernelStereo | null): void;
  /** Sums `length` samples of all sources into all listeners. Outputs are overwritten. */
  mix(length: number): void;
  /** Current gain of a crosspoint's louder side, where its ramp has it now. */
  gainNow(source: number, listener: number): number;
}

/** Words of one operand in the kernel's table: address, then gain and step of each side. */
const OPERAND_WORDS = 5;

/** Memory the mixer's tables need, bytes. */
export function mixerBytes(sources: number, listeners: number): number {
  return listeners * (2 * sources * OPERAND_WORDS * 4 + 16);
}

export function createMixer(
  kernel: Kernel,
  inputs: readonly KernelStereo[],
  outputs: readonly KernelStereo[],
): Mixer {
  /** Each source twice: as its inserts make it, and as it comes in. */
  const sources = 2 * inputs.length;
  const listeners = outputs.length;
  const target = new Float32Array(2 * sources * listeners);
  const start = new Float32Array(2 * sources * listeners);
  const tables = outputs.map(() => kernel.reserve(sources * OPERAND_WORDS * 4));
  // A closed crosspoint is no operand: each listener's table lists only what is open or moving.
  const counts = new Uint16Array(listeners);
  const addresses = Uint32Array.from([...inputs, ...inputs], ({ address }) => address);
  let rampLength = 0;
  let rampDone = 0;

  const gainAt = (place: number, done: number): number =>
    done >= rampLength ? target[place] : start[place] + ((target[place] - start[place]) * done) / rampLength;

  /** One side's gain and step a sample, from the next sample on. */
  const writeGain = (word: number, place: number, moving: boolean): void => {
    const step = moving ? (target[place] - start[place]) / rampLength : 0;
    // A ramp's first sample has already made its first step, so its last one is on target.
    kernel.floats[word] = moving ? start[place] + step * (rampDone + 1) : target[place];
    kernel.floats[word + 1] = step;
  };

  const writeTables = (): void => {
    const moving = rampDone < rampLength;
    for (let m = 0; m < listeners; m++) {
      let word = tables[m] / 4;
      let count = 0;
      for (let n = 0; n < sources; n++) {
        const place = 2 * (m * sources + n);
        const opens = target[place] !== 0 || target[place + 1] !== 0;
        const closes = moving && (start[place] !== 0 || start[place + 1] !== 0);
        if (!opens && !closes) continue;
        kernel.words[word] = addresses[n];
        writeGain(word + 1, place, moving);
        writeGain(word + 3, place + 1, moving);
        word += OPERAND_WORDS;
        count++;
      }
      counts[m] = count;
    }
  };

  return {
    setTargets(targets, rampSamples) {
      for (let place = 0; place < start.length; place++) start[place] = gainAt(place, rampDone);
      target.set(targets);
      rampLength = rampSamples;
      rampDone = 0;
      writeTables();
    },
    takeFrom(source, place) {
      addresses[source] = (place ?? inputs[source]).address;
      writeTables();
    },
    takeRawFrom(source, place) {
      addresses[inputs.length + source] = (place ?? inputs[source]).address;
      writeTables();
    },
    mix(length) {
      let from = 0;
      if (rampDone < rampLength) {
        from = Math.min(length, rampLength - rampDone);
        writeTables();
        for (let m = 0; m < listeners; m++) {
          kernel.mixRamping(outputs[m].address, tables[m], counts[m], kernel.side, 0, from);
        }
        rampDone += from;
        if (rampDone >= rampLength) writeTables();
      }
      if (from === length) return;
      for (let m = 0; m < listeners; m++) {
        kernel.mixSteady(outputs[m].address, tables[m], counts[m], kernel.side, from, length);
      }
    },
    gainNow(source, listener) {
      const place = 2 * (listener * sources + source);
      const raw = place + 2 * inputs.length;
      return Math.max(gainAt(place, rampDone), gainAt(place + 1, rampDone), gainAt(raw, rampDone), gainAt(raw + 1, rampDone));
    },
  };
}
