import type { Biquad } from '../../dsp/biquad';
import type { Kernel, KernelStereo } from '../../kernel/kernel';
import { FADE_SECONDS } from './insert';

/** One filter in the kernel's memory. */
const FILTER_BYTES = 112;
const FILTER_DOUBLES = FILTER_BYTES / 8;
/** Where a filter's states begin in it. */
const FIRST_STATE = 6;

/** Memory a bank takes, bytes. */
export const filterBankBytes = (most: number): number => 2 * Math.ceil((most * FILTER_BYTES) / 16) * 16;

interface Filters {
  address: number;
  filters: readonly Biquad[];
}

/**
 * Filters in a row, in the kernel. Others are faded to in 10 ms: both run, and the new ones go on from what the old ones
 * held. Without any, sound passes bit by bit.
 */
export class FilterBank {
  readonly #kernel: Kernel;
  readonly #fadeLength: number;
  #now: Filters;
  #next: Filters;
  #pending: readonly Biquad[] | null = null;
  /** Samples of a fade that are done; -1 while nothing fades. */
  #faded = -1;

  /** @param most how many filters there may be */
  constructor(kernel: Kernel, most: number, sampleRate: number) {
    this.#kernel = kernel;
    this.#fadeLength = Math.round(FADE_SECONDS * sampleRate);
    this.#now = { address: kernel.reserve(most * FILTER_BYTES), filters: [] };
    this.#next = { address: kernel.reserve(most * FILTER_BYTES), filters: [] };
  }

  set(filters: readonly Biquad[]): void {
    if (this.#faded >= 0) {
      this.#pending = filters;
      return;
    }
    if (same(filters, this.#now.filters)) return;
    const goOn = filters.length === this.#now.filters.length;
    const { doubles } = this.#kernel;
    filters.forEach(({ b0, b1, b2, a1, a2 }, k) => {
      const to = this.#next.address / 8 + k * FILTER_DOUBLES;
      const from = this.#now.address / 8 + k * FILTER_DOUBLES;
      doubles[to] = b0;
      doubles[to + 1] = b1;
      doubles[to + 2] = b2;
      doubles[to + 3] = a1;
      doubles[to + 4] = a2;
      for (let state = FIRST_STATE; state < FILTER_DOUBLES; state++) doubles[to + state] = goOn ? doubles[from + state] : 0;
    });
    this.#next.filters = filters;
    this.#faded = 0;
  }

  atRest(): boolean {
    return this.#faded < 0 && this.#now.filters.length === 0;
  }

  /** @param scratch room of the kernel’s, overwritten; input and output may be the same */
  process(input: KernelStereo, output: KernelStereo, scratch: KernelStereo, length: number): void {
    if (this.#faded < 0) return this.#run(this.#now, input, output, length);
    this.#run(this.#next, input, scratch, length);
    this.#run(this.#now, input, output, length);
    let faded = this.#faded;
    for (let i = 0; i < length; i++) {
      if (faded < this.#fadeLength) faded++;
      const share = faded / this.#fadeLength;
      output.left[i] += share * (scratch.left[i] - output.left[i]);
      output.right[i] += share * (scratch.right[i] - output.right[i]);
    }
    this.#faded = faded;
    if (faded < this.#fadeLength) return;
    [this.#now, this.#next] = [this.#next, this.#now];
    this.#faded = -1;
    if (this.#pending) this.set(this.#pending);
    this.#pending = null;
  }

  #run({ address, filters }: Filters, input: KernelStereo, output: KernelStereo, length: number): void {
    if (filters.length > 0) return this.#kernel.filterCascade(input.address, output.address, this.#kernel.side, length, address, filters.length);
    if (input.address === output.address) return;
    for (let i = 0; i < length; i++) {
      output.left[i] = input.left[i];
      output.right[i] = input.right[i];
    }
  }
}

const same = (some: readonly Biquad[], others: readonly Biquad[]): boolean =>
  some.length === others.length && some.every(({ b0, b1, b2, a1, a2 }, k) => {
    const other = others[k];
    return b0 === other.b0 && b1 === other.b1 && b2 === other.b2 && a1 === other.a1 && a2 === other.a2;
  });
