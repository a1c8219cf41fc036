/**
 * Chunks travel together: what all tracks have of two seconds is one request and one transaction on the server. The request's
 * body is the chunks' bytes one after another; this is said of each, as JSON, in the header {@link PARCEL_HEADER}.
 */
export interface ParcelEntry {
  track: string;
  index: number;
  /** SHA-256 of the bytes, 64 hex digits. */
  sha256: string;
  bytes: number;
}

export const PARCEL_HEADER = 'x-chunks';
/** Chunks in one parcel: more would not fit into a header. */
export const MOST_IN_PARCEL = 24;
/** Bytes of one parcel, unless a single chunk is longer. */
export const PARCEL_BYTES = 4 * 2 ** 20;
