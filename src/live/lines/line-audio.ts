/** A link's two ends at the desk's audio thread: what it carries out, and what came in. */
export interface LineAudio {
  /** The listener's mix, to be sent. */
  readonly track: MediaStreamTrack;
  /** Lets a received stream in, in place of the one before. */
  receive(stream: MediaStream): void;
  close(): void;
}
