/** Signature, flags and the length of the header's extension. */
const FIXED_HEADER = 11 + 4;

/**
 * The rows of PostgreSQL's binary COPY format (its manual, "COPY", file formats), each as the bytes of its fields.
 * Nothing is copied: fields lie in `bytes`.
 * @throws {RangeError} when it breaks off
 */
export function* copiedRows(bytes: Buffer): Generator<Buffer[]> {
  let at = FIXED_HEADER + 4 + bytes.readUInt32BE(FIXED_HEADER);
  for (let count = bytes.readInt16BE(at); count >= 0; count = bytes.readInt16BE(at)) {
    at += 2;
    const row: Buffer[] = [];
    for (let field = 0; field < count; field++) {
      const length = Math.max(0, bytes.readInt32BE(at));
      row.push(bytes.subarray(at + 4, at + 4 + length));
      at += 4 + length;
    }
    yield row;
  }
}
