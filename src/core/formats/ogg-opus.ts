import { joinBytes } from './join-bytes';

/** Ogg page checksum: CRC-32 with polynomial 0x04c11db7, not reflected, from 0 (RFC 3533, 6). */
const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let crc = n << 24;
  for (let bit = 0; bit < 8; bit++) crc = crc & 0x80000000 ? (crc << 1) ^ 0x04c11db7 : crc << 1;
  return crc >>> 0;
});

const [FIRST, LAST] = [2, 4];
const HEAD_BYTES = 27;
const MOST_SEGMENTS = 255;
const text = (words: string): Uint8Array => new TextEncoder().encode(words);

/**
 * One logical stream of Opus in Ogg (RFC 7845), page by page as packets come: for streams without an end. A stream with other
 * tags is another logical stream with another serial number behind this one (RFC 3533, 4: chaining).
 */
export class OggOpusStream {
  readonly #serial: number;
  #page = 0;
  /** Samples at 48 kHz up to the end of the last page. */
  #granule = 0;

  constructor(serial: number) {
    this.#serial = serial >>> 0;
  }

  /** The two header pages. @param preSkip samples a decoder leaves out at the beginning */
  begin(channels: 1 | 2, preSkip: number, tags: Record<string, string>): Uint8Array {
    const head = new Uint8Array(19);
    head.set(text('OpusHead'));
    const view = new DataView(head.buffer);
    view.setUint8(8, 1);
    view.setUint8(9, channels);
    view.setUint16(10, preSkip, true);
    view.setUint32(12, 48_000, true);
    const comments = Object.entries(tags).map(([name, value]) => text(`${name}=${value}`));
    const vendor = text('Brisk Lantern');
    const count = (value: number) => new Uint8Array(Uint32Array.of(value).buffer);
    const tagPacket = joinBytes([text('OpusTags'), count(vendor.length), vendor, count(comments.length), ...comments.flatMap((comment) => [count(comment.length), comment])]);
    return joinBytes([this.#write([head], FIRST, 0), this.#write([tagPacket], 0, 0)]);
  }

  /** Packets of so many samples each. @throws {RangeError} for more than fit into one page */
  sound(packets: readonly Uint8Array[], samplesEach: number): Uint8Array {
    this.#granule += packets.length * samplesEach;
    return this.#write(packets, 0, this.#granule);
  }

  /** An empty page that says that no more comes. */
  end(): Uint8Array {
    return this.#write([], LAST, this.#granule);
  }

  #write(packets: readonly Uint8Array[], flags: number, granule: number): Uint8Array {
    // A packet is as many full segments as it has, and one that is not full.
    const lacing = packets.flatMap(({ length }) => [...new Array<number>(Math.floor(length / 255)).fill(255), length % 255]);
    if (lacing.length > MOST_SEGMENTS) throw new RangeError(`A page holds at most ${MOST_SEGMENTS} segments, received ${lacing.length}.`);
    const head = new Uint8Array(HEAD_BYTES + lacing.length);
    head.set(text('OggS'));
    const view = new DataView(head.buffer);
    view.setUint8(5, flags);
    view.setBigUint64(6, BigInt(granule), true);
    view.setUint32(14, this.#serial, true);
    view.setUint32(18, this.#page++, true);
    view.setUint8(26, lacing.length);
    head.set(lacing, HEAD_BYTES);
    const page = joinBytes([head, ...packets]);
    let crc = 0;
    for (const byte of page) crc = (CRC[(crc >>> 24) ^ byte] ^ (crc << 8)) >>> 0;
    new DataView(page.buffer).setUint32(22, crc, true);
    return page;
  }
}
