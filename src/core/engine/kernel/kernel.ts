import type { Stereo } from '../stereo';
import { KERNEL_BASE64 } from './kernel-bytes';

/** The compiled loops; addresses and sizes are bytes, `from`, `to` and `length` are samples. */
interface KernelFunctions {
  mixSteady(out: number, operands: number, count: number, side: number, from: number, to: number): void;
  mixRamping(out: number, operands: number, count: number, side: number, from: number, to: number): void;
  measure(signal: number, side: number, length: number, sum: number): number;
  weightedPower(signal: number, side: number, length: number, state: number): number;
  filterCascade(input: number, output: number, side: number, length: number, filters: number, count: number): void;
}

/** A stereo block in the kernel's memory. */
export interface KernelStereo extends Stereo {
  readonly address: number;
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
  /** Room for `bytes`, zeroed, on a 16-byte boundary. */
  reserve(bytes: number): number;
}

const PAGE_BYTES = 65536;
const FIRST_ADDRESS = 1024;
let compiled: WebAssembly.Module | null = null;

/**
 * @param memoryBytes what all later reservations add up to
 * @throws {RangeError} when that is more than the 16 MiB the kernel can address
 */
export function createKernel(maxBlock: number, memoryBytes: number): Kernel {
  const pages = Math.ceil((FIRST_ADDRESS + memoryBytes) / PAGE_BYTES);
  if (pages > 256) throw new RangeError(`An engine of ${memoryBytes} bytes exceeds 16 MiB.`);
  compiled ??= new WebAssembly.Module(decodeBase64(KERNEL_BASE64));
  const memory = new WebAssembly.Memory({ initial: pages, maximum: 256 });
  const instance = new WebAssembly.Instance(compiled, { env: { memory } });
  const functions = instance.exports as unknown as KernelFunctions;
  const side = Math.ceil((maxBlock * 4) / 16) * 16;
  let free = FIRST_ADDRESS;
  const reserve = (bytes: number): number => {
    const address = free;
    free += Math.ceil(bytes / 16) * 16;
    return address;
  };
  return {
    mixSteady: functions.mixSteady,
    mixRamping: functions.mixRamping,
    measure: functions.measure,
    weightedPower: functions.weightedPower,
    filterCascade: functions.filterCascade,
    side,
    floats: new Float32Array(memory.buffer),
    words: new Uint32Array(memory.buffer),
    doubles: new Float64Array(memory.buffer),
    reserve,
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
