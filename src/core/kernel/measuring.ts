import { kernelIn, PAGE_BYTES, type KernelFunctions } from './kernel';

const MOST_PAGES = 4096;
const FIRST_ADDRESS = 1024;
const ALIGNED = 16;

/** A memory for the loops of measuring: what is measured is copied in. One for each user, who knows what lies where. */
export class MeasuringRoom {
  readonly #memory = new WebAssembly.Memory({ initial: 1, maximum: MOST_PAGES });
  readonly functions: KernelFunctions = kernelIn(this.#memory);
  #free = FIRST_ADDRESS;

  /** Room for `bytes` for good; returns its address. */
  reserve(bytes: number): number {
    const address = this.#free;
    this.#free += Math.ceil(bytes / ALIGNED) * ALIGNED;
    this.need(address, bytes);
    return address;
  }

  /** Makes sure that there are `bytes` from an address on, past everything reserved. */
  need(address: number, bytes: number): void {
    const missing = address + bytes - this.#memory.buffer.byteLength;
    if (missing > 0) this.#memory.grow(Math.ceil(missing / PAGE_BYTES));
  }

  /** Where what is not reserved begins. */
  get free(): number {
    return this.#free;
  }

  floats(address: number, count: number): Float32Array {
    return new Float32Array(this.#memory.buffer, address, count);
  }

  doubles(address: number, count: number): Float64Array {
    return new Float64Array(this.#memory.buffer, address, count);
  }
}
