export interface HearRequest {
  /** The mix as it is sent, one channel; and what is heard of it. */
  sent: SharedArrayBuffer;
  heard: SharedArrayBuffer;
}

/** The delay between them, ms; null while it is not clear. */
export type FromHearing = number | null;
