import { crc32 } from 'node:zlib';

/** One file of a ZIP; its length is known beforehand. */
export interface ZipEntry {
  name: string;
  bytes: number;
  /** Its content, in pieces; asked for when all files before it are written. */
  content(): AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

// APPNOTE.TXT 6.3.10, sections 4.3 to 4.5. Every field is little-endian.
const LOCAL_HEADER = 0x04034b50;
const DESCRIPTOR = 0x08074b50;
const CENTRAL_HEADER = 0x02014b50;
const END_64 = 0x06064b50;
const END_64_LOCATOR = 0x07064b50;
const END = 0x06054b50;
/** Version 4.5: sizes of 64 bits. */
const NEEDS = 45;
/** Made on a system whose files have permissions as UNIX has. */
const MADE_BY = (3 << 8) | NEEDS;
/** The checksum follows the content; names are UTF-8. */
const FLAGS = (1 << 3) | (1 << 11);
const MODE = 0o100644 * 0x10000;
const EXTRA_64 = 1;
const FULL_16 = 0xffff;
const FULL_32 = 0xffffffff;

const LOCAL_BYTES = 30 + 20;
const DESCRIPTOR_BYTES = 24;
const CENTRAL_BYTES = 46 + 28;
const ENDS_BYTES = 56 + 20 + 22;

/** Texts by the names of their files. */
export function textEntries(texts: Record<string, string>): ZipEntry[] {
  return Object.entries(texts).map(([name, text]) => ({ name, bytes: Buffer.byteLength(text), content: () => [Buffer.from(text)] }));
}

/** Length of the ZIP that {@link storedZip} makes of these, bytes. */
export function storedZipBytes(entries: readonly ZipEntry[]): number {
  return entries.reduce((sum, { name, bytes }) => sum + LOCAL_BYTES + bytes + DESCRIPTOR_BYTES + CENTRAL_BYTES + 2 * Buffer.byteLength(name), ENDS_BYTES);
}

/**
 * A ZIP of files as they are: sound would not become smaller. Each is written as it comes, so its checksum follows it, and all
 * sizes have 64 bits, so that the length of the whole is known before the first byte.
 * @throws {RangeError} when a file turns out to be longer or shorter than it said
 */
export async function* storedZip(entries: readonly ZipEntry[], written: Date): AsyncGenerator<Uint8Array> {
  const central: Buffer[] = [];
  let at = 0;
  for (const { name, bytes, content } of entries) {
    const header = localHeader(name, bytes, written);
    yield header;
    let checksum = 0;
    let length = 0;
    for await (const piece of content()) {
      checksum = crc32(piece, checksum);
      length += piece.length;
      yield piece;
    }
    if (length !== bytes) throw new RangeError(`“${name}” has ${length} bytes and not ${bytes} as was said.`);
    yield fields(DESCRIPTOR_BYTES).u32(DESCRIPTOR).u32(checksum).u64(bytes).u64(bytes).bytes;
    central.push(centralHeader(name, bytes, checksum, at, written));
    at += header.length + bytes + DESCRIPTOR_BYTES;
  }
  const directory = Buffer.concat(central);
  yield directory;
  yield ends(entries.length, directory.length, at);
}

function localHeader(name: string, bytes: number, written: Date): Buffer {
  const letters = Buffer.from(name);
  const { date, time } = dosTime(written);
  // Sizes in the extra field are there for whoever reads from front to back.
  const header = fields(30).u32(LOCAL_HEADER).u16(NEEDS).u16(FLAGS).u16(0).u16(time).u16(date).u32(0).u32(FULL_32).u32(FULL_32).u16(letters.length).u16(20);
  const extra = fields(20).u16(EXTRA_64).u16(16).u64(bytes).u64(bytes);
  return Buffer.concat([header.bytes, letters, extra.bytes]);
}

function centralHeader(name: string, bytes: number, checksum: number, at: number, written: Date): Buffer {
  const letters = Buffer.from(name);
  const { date, time } = dosTime(written);
  const header = fields(46).u32(CENTRAL_HEADER).u16(MADE_BY).u16(NEEDS).u16(FLAGS).u16(0).u16(time).u16(date).u32(checksum).u32(FULL_32).u32(FULL_32);
  header.u16(letters.length).u16(28).u16(0).u16(0).u16(0).u32(MODE).u32(FULL_32);
  const extra = fields(28).u16(EXTRA_64).u16(24).u64(bytes).u64(bytes).u64(at);
  return Buffer.concat([header.bytes, letters, extra.bytes]);
}

function ends(count: number, directoryBytes: number, directoryAt: number): Buffer {
  const big = fields(56).u32(END_64).u64(44).u16(MADE_BY).u16(NEEDS).u32(0).u32(0).u64(count).u64(count).u64(directoryBytes).u64(directoryAt);
  const locator = fields(20).u32(END_64_LOCATOR).u32(0).u64(directoryAt + directoryBytes).u32(1);
  const end = fields(22).u32(END).u16(0).u16(0).u16(FULL_16).u16(FULL_16).u32(FULL_32).u32(FULL_32).u16(0);
  return Buffer.concat([big.bytes, locator.bytes, end.bytes]);
}

/** Two seconds are the finest of it, and 1980 its first year (4.4.6). */
function dosTime(moment: Date): { date: number; time: number } {
  return {
    date: (Math.max(0, moment.getUTCFullYear() - 1980) << 9) | ((moment.getUTCMonth() + 1) << 5) | moment.getUTCDate(),
    time: (moment.getUTCHours() << 11) | (moment.getUTCMinutes() << 5) | (moment.getUTCSeconds() >> 1),
  };
}

function fields(length: number) {
  const bytes = Buffer.alloc(length);
  let at = 0;
  const writer = {
    bytes,
    u16(value: number) {
      at = bytes.writeUInt16LE(value, at);
      return writer;
    },
    u32(value: number) {
      at = bytes.writeUInt32LE(value, at);
      return writer;
    },
    u64(value: number) {
      at = bytes.writeBigUInt64LE(BigInt(value), at);
      return writer;
    },
  };
  return writer;
}
