import type { Stereo } from './stereo';
import { KERNEL_BASE64 } from './kernel-bytes';

/** The compiled loops; addresses and sizes are bytes, `from`, `to` and `length` are samples. */
export interface KernelFunctions {
  mixSteady(out: number, operands: number, count: number, side: number, from: number, to: number): void;
  mixRamping(out: number, operands: number, count: number, side: number, from: number, to: number): void;
  measure(signal: number, side: number, length: number, sum: number): number;
  weighTwo(a: number, b: number, side: number, length: number, meterA: number, meterB: number): void;
  filterCascade(input: number, output: number, side: number, length: number, filters: number, count: number): void;
  fftReorder(re: number, im: number, swaps: number, count: number): void;
  fftFirst(re: number, im: number, size: number): void;
  fftTwoStages(re: number, im: number, size: number, half: number, sign: number, turns: number): void;
  fftScale(re: number, im: number, size: number, by: number): void;
  decimateByThree(samples: number, out: number, count: number, taps: number, reach: number): void;
  goertzelSix(samples: number, window: number, length: number, steps: number, last: number): void;
  largestBetween(samples: number, count: number, taps: number, reach: number, peak: number): number;
  resampleStereo(signal: number, out: number, count: number, at: number, step: number, table: number): number;
  partitionEstimate(xRe: number, xIm: number, wRe: number, wIm: number, re: number, im: number, count: number): void;
  partitionUnsure(xRe: number, xIm: number, uncertainty: number, gain: number, count: number): void;
  partitionLearn(xRe: number, xIm: number, wRe: number, wIm: number, uncertainty: number, errorRe: number, errorIm: number, gain: number, transition: number, change: number, count: number): void;
}

/** A stereo block in the kernel's memory. */
export interface KernelStereo extends Stereo {
  readonly address: number;
}

/** Numbers in the kernel's memory. */
export interface KernelSpectrum {
  readonly address: number;
  readonly values: Float64Array;
}

/** The loops together with the memory they work in, all of it laid out once. */
export interface Kernel extends KernelFunctions {
  /** Distance from a left side to its right side, bytes. */
  readonly side: number;
  /** The whole memory as floats and as unsigned words, by address / 4. */
  readonly floats: Float32Array;
  readonly words: Uint32Array;
  readonly doubles: Float64Array;
  stereo(): KernelStereo;
  /** So many doubles, zeroed. */
  spectrum(count: number): KernelSpectrum;
  /** Room for `bytes`, zeroed, on a 16-byte boundary. */
  reserve(bytes: number): number;
}

export const PAGE_BYTES = 65536;
const FIRST_ADDRESS = 1024;
let compiled: WebAssembly.Module | null = null;

/** The loops over a memory of somebody's own: at most 256 MiB. */
export function kernelIn(memory: WebAssembly.Memory): KernelFunctions {
  compiled ??= new WebAssembly.Module(decodeBase64(KERNEL_BASE64));
  return new WebAssembly.Instance(compiled, { env: { memory } }).exports as unknown as KernelFunctions;
}

/**
 * @param memoryBytes what all later reservations add up to
 * @throws {RangeError} when that is more than the 16 MiB the kernel can address
 */
export function createKernel(maxBlock: number, memoryBytes: number): Kernel {
  const pages = Math.ceil((FIRST_ADDRESS + memoryBytes) / PAGE_BYTES);
  if (pages > 256) throw new RangeError(`An engine of ${memoryBytes} bytes exceeds 16 MiB.`);
  const memory = new WebAssembly.Memory({ initial: pages, maximum: 256 });
  const functions = kernelIn(memory);
  const side = Math.ceil((maxBlock * 4) / 16) * 16;
  let free = FIRST_ADDRESS;
  const reserve = (bytes: number): number => {
    const address = free;
    free += Math.ceil(bytes / 16) * 16;
    return address;
  };
  return {
    ...functions,
    side,
    floats: new Float32Array(memory.buffer),
    words: new Uint32Array(memory.buffer),
    doubles: new Float64Array(memory.buffer),
    reserve,
    spectrum(count) {
      const address = reserve(count * 8);
      return { address, values: new Float64Array(memory.buffer, address, count) };
    },
    stereo() {
      const address = reserve(2 * side);
      return {
        address,
        left: new Float32Array(memory.buffer, address, maxBlock),
        right: new Float32Array(memory.buffer, address + side, maxBlock),
      };
    },
  };
}

const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

/** The audio thread has no `atob`. */
function decodeBase64(text: string): Uint8Array<ArrayBuffer> {
  const letters = text.replace(/=+$/, '');
  const bytes = new Uint8Array(Math.floor((letters.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (const letter of letters) {
    held = ((held << 6) | ALPHABET.indexOf(letter)) & 0xffff;
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = held >> bits;
    }
  }
  return bytes;
}
