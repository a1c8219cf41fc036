/**
 * How far a writer's clock is ahead of a reader's, both held against the time of day. Sound is handed on in pieces and late
 * now and then, never early: of every second the least late moment of each counts, so neither the size of pieces nor a
 * machine that is held up looks like a clock.
 */
export class ClockLead {
  /** Seconds of sound so far, by each one's own nominal rate. */
  #written = 0;
  #read = 0;
  /** Lateness of the least late moments since the last look, seconds. */
  #writerLate = Infinity;
  #readerLate = Infinity;

  /** A piece of so many seconds was written at `atMs`. */
  wrote(seconds: number, atMs: number): void {
    this.#written += seconds;
    this.#writerLate = Math.min(this.#writerLate, atMs / 1000 - this.#written);
  }

  /** So many seconds were read at `atMs`. */
  didRead(seconds: number, atMs: number): void {
    this.#read += seconds;
    this.#readerLate = Math.min(this.#readerLate, atMs / 1000 - this.#read);
  }

  /**
   * Seconds the writer is ahead, from some beginning; NaN when one of them did nothing since the last look.
   * @param writerLateMs what is known better than by the pieces, ms; NaN where nothing is
   */
  take(writerLateMs: number, readerLateMs: number): number {
    const [writer, reader] = [this.#writerLate, this.#readerLate];
    this.#writerLate = this.#readerLate = Infinity;
    if (!Number.isFinite(writer) || !Number.isFinite(reader)) return NaN;
    return (Number.isNaN(readerLateMs) ? reader : readerLateMs / 1000) - (Number.isNaN(writerLateMs) ? writer : writerLateMs / 1000);
  }
}
