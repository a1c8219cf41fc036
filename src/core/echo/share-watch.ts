import { Decimator } from '../dsp/decimator';
import { GUARD_WINDOW, LoopGuard, type LoopFound } from './loop-guard';

/** The newest samples of a signal at 8 kHz. */
class Newest {
  readonly samples: Float32Array<ArrayBuffer>;
  readonly #decimator = new Decimator();
  readonly #made = new Float32Array(64);

  constructor(length: number) {
    this.samples = new Float32Array(length);
  }

  push(block: Float32Array): void {
    const made = this.#decimator.process(block, block.length, this.#made);
    this.samples.copyWithin(0, made);
    this.samples.set(this.#made.subarray(0, made), this.samples.length - made);
  }
}

/** The loop guard, fed with blocks at 48 kHz as a capture brings them. */
export class ShareWatch {
  readonly #guard = new LoopGuard();
  readonly #share = new Newest(GUARD_WINDOW);
  readonly #call = new Newest(2 * GUARD_WINDOW);

  /** @param channels both sides of the share and the sum of everything else, one after another; of at most 384 samples each */
  take(channels: Float32Array): void {
    const length = channels.length / 3;
    const share = channels.slice(0, length);
    for (let i = 0; i < length; i++) share[i] += channels[length + i];
    this.#share.push(share);
    this.#call.push(channels.subarray(2 * length));
  }

  /** Compares what came last; call it a few times a second. */
  look(): LoopFound | null {
    return this.#guard.check(this.#share.samples, this.#call.samples);
  }
}
