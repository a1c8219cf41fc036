// Plain JavaScript, because a thread of the server begins without whatever translated its parent. Its types are in flac-library.ts.

/** Level 5: what the reference encoder does unless told otherwise. */
const LEVEL = 5;
/** Where STREAMINFO has the MD5 of the samples (RFC 9639, 8.2), behind the marker and the block's header. */
const MD5_AT = 4 + 4 + 18;
/** Bytes; more are made room for. */
const FIRST_ROOM = 2 ** 16;

/**
 * @param {import('./flac-library').FlacLibrary} library
 * @param {import('./flac-library').FlacDescription} description
 * @returns {import('./flac-library').FlacStreamEncoder}
 * @throws {Error} here or later, when the encoder refuses
 */
export function createFlacStreamEncoder(library, { channels, sampleRate, bits, frames }) {
  const encoder = library.create_libflac_encoder(sampleRate, channels, bits, LEVEL, frames, false);
  if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
  // Frames come one by one; they are kept in one place, and given away together.
  let ready = new Uint8Array(FIRST_ROOM);
  let filled = 0;
  const keep = (bytes) => {
    if (filled + bytes.length > ready.length) {
      const larger = new Uint8Array(2 * (filled + bytes.length));
      larger.set(ready.subarray(0, filled));
      ready = larger;
    }
    ready.set(bytes, filled);
    filled += bytes.length;
  };
  const given = () => {
    const bytes = ready.slice(0, filled);
    filled = 0;
    return bytes;
  };
  let md5 = '';
  let open = true;
  const close = () => {
    if (open) library.FLAC__stream_encoder_delete(encoder);
    open = false;
  };
  const begun = library.init_encoder_stream(
    encoder,
    keep,
    (facts) => void (md5 = facts?.md5sum ?? ''),
  );
  if (begun !== 0) {
    close();
    throw new Error(`The FLAC encoder did not begin (${begun}).`);
  }
  return {
    push(integers) {
      if (!library.FLAC__stream_encoder_process(encoder, integers, integers[0].length)) throw new Error('The FLAC encoder stopped.');
      return given();
    },
    finish() {
      if (!library.FLAC__stream_encoder_finish(encoder)) throw new Error('The FLAC encoder did not finish.');
      const digits = md5.match(/../g) ?? [];
      const patch = digits.length === 16 ? { position: MD5_AT, bytes: Uint8Array.from(digits, (pair) => Number.parseInt(pair, 16)) } : null;
      return { bytes: given(), patch };
    },
    close,
  };
}
