/**
 * Is told what was played: from which sample of the session clock, for how many, the largest sample
 * and the sum of squares over both sides, as it left the player.
 */
export type PlayedSink = (sound: string, startedAt: number, lengthSamples: number, peak: number, sumOfSquares: number) => void;

/** Measures one playing of a sound while it plays. */
export class Played {
  /** Session clock of its first sample; -1 before there is one. */
  startedAt = -1;
  #samples = 0;
  #peak = 0;
  #sumOfSquares = 0;

  take(left: number, right: number): void {
    this.#samples++;
    const larger = Math.max(Math.abs(left), Math.abs(right));
    if (larger > this.#peak) this.#peak = larger;
    this.#sumOfSquares += left * left + right * right;
  }

  /** Reports and begins to count anew. */
  tell(sink: PlayedSink, sound: string): void {
    if (this.startedAt >= 0 && this.#samples > 0) sink(sound, this.startedAt, this.#samples, this.#peak, this.#sumOfSquares);
    this.#samples = this.#peak = this.#sumOfSquares = 0;
  }
}

export const createPlayed = (): Played => new Played();
