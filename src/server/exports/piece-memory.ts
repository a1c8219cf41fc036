type Samples = Float32Array<ArrayBuffer> | Int32Array<ArrayBuffer>;

/** Memory of pieces of sound that goes to a thread and comes back: a new second of it each time would be hundreds of megabytes until it is collected. */
export class PieceMemory<Kind extends Samples> {
  #free: Kind[][] = [];

  /** @param make memory for so many samples of a channel */
  constructor(private readonly make: (length: number) => Kind) {}

  /** Memory for a piece; what is in it is nobody's. */
  take(channels: number, length: number): Kind[] {
    const there = this.#free.findIndex((one) => one.length === channels && one[0].length === length);
    if (there >= 0) return this.#free.splice(there, 1)[0];
    // Pieces of another length come from here on.
    this.#free = [];
    return Array.from({ length: channels }, () => this.make(length));
  }

  giveBack(piece: Kind[]): void {
    this.#free.push(piece);
  }
}
