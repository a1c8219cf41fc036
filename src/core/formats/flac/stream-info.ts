/** The bytes are not a FLAC file. */
export class FlacFormatError extends Error {
  readonly code = 'flac-format';
}

export interface FlacStreamInfo {
  sampleRate: number;
  channels: number;
  lengthSamples: number;
}

/**
 * What a FLAC file says of itself in its first metadata block (RFC 9639, section 8.2).
 * @throws {FlacFormatError} when the bytes do not begin a FLAC file
 */
export function readFlacStreamInfo(bytes: Uint8Array): FlacStreamInfo {
  const isFlac = bytes.length >= 42 && String.fromCharCode(...bytes.subarray(0, 4)) === 'fLaC';
  // Block type 0 is STREAMINFO; the high bit only says whether more blocks follow.
  if (!isFlac || (bytes[4] & 0x7f) !== 0) throw new FlacFormatError('This is not a FLAC file.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packed = view.getUint32(18); // 20 bits rate, 3 bits channels − 1, 5 bits depth − 1, 4 bits length
  return {
    sampleRate: packed >>> 12,
    channels: ((packed >>> 9) & 7) + 1,
    lengthSamples: (packed & 15) * 2 ** 32 + view.getUint32(22),
  };
}
