/** MPEG-1 layer III has 1152 samples in a frame; an Opus packet here 20 ms. */
export const PACKET_SAMPLES = Object.freeze({ mp3: 1152, opus: 960 });

/** Sound goes to the server in pieces of about this length, s. */
export const PIECE_SECONDS = 0.5;

/** Bytes of an MP3 frame at 48 kHz and a constant rate (ISO 11172-3, 2.4.3.1): 144 · rate / 48000, whole for every rate. */
export const mp3FrameBytes = (kbps: number): number => 3 * kbps;

/** Cuts what an encoder gives out, in pieces of any length, into frames of one length. */
export class FrameCutter {
  readonly #bytes: number;
  #rest = new Uint8Array(0);

  constructor(frameBytes: number) {
    this.#bytes = frameBytes;
  }

  push(more: Uint8Array): Uint8Array[] {
    const all = new Uint8Array(this.#rest.length + more.length);
    all.set(this.#rest);
    all.set(more, this.#rest.length);
    const count = Math.floor(all.length / this.#bytes);
    this.#rest = all.slice(count * this.#bytes);
    return Array.from({ length: count }, (_, k) => all.slice(k * this.#bytes, (k + 1) * this.#bytes));
  }
}

/** Packets one after another, each behind its length in two bytes (little-endian). */
export function joinPackets(packets: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const joined = new Uint8Array(packets.reduce((sum, { length }) => sum + 2 + length, 0));
  const view = new DataView(joined.buffer);
  let at = 0;
  for (const packet of packets) {
    view.setUint16(at, packet.length, true);
    joined.set(packet, at + 2);
    at += 2 + packet.length;
  }
  return joined;
}

/** @throws {RangeError} when the bytes are not whole packets */
export function splitPackets(bytes: Uint8Array): Uint8Array[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packets: Uint8Array[] = [];
  for (let at = 0; at < bytes.length; ) {
    const length = at + 2 <= bytes.length ? view.getUint16(at, true) : 0;
    if (length === 0 || at + 2 + length > bytes.length) throw new RangeError('A piece of a stream holds no whole packets.');
    packets.push(bytes.subarray(at + 2, at + 2 + length));
    at += 2 + length;
  }
  return packets;
}

/** An MP3 frame that begins like another one and holds silence: side information of zeros, and no sound (ISO 11172-3, 2.4.1.7). */
export function silentMp3Frame(like: Uint8Array, kbps: number): Uint8Array {
  const frame = new Uint8Array(mp3FrameBytes(kbps));
  frame.set(like.subarray(0, 4));
  // No CRC follows the header (bit 16 set), and no padding.
  frame[1] |= 1;
  frame[2] &= ~2;
  return frame;
}

/** Opus: stereo, 20 ms, CELT at full band, with nothing coded in it: decoders make silence of it (RFC 6716, 3.1). */
export const SILENT_OPUS_PACKET = Uint8Array.of(0xfc, 0xff, 0xfe);
