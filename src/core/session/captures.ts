import type { Engine } from '../engine/engine';

/**
 * A signal for whoever needs it: a source straight at the engine's input, a voice as the mixes get it, a listener's finished
 * mix, or the sum of all sources but one, both sides together.
 */
export interface Tap {
  of: 'source' | 'processed' | 'listener' | 'others';
  slot: number;
  /** One: the left side. */
  channels: 1 | 2;
}

/** Where a capture's blocks go. */
export interface BlockSink {
  /** Room for the next block's channels, or null when the reader is too far behind. */
  next(): Float32Array | null;
  /** Hands the block over; `position` is the clock of its first sample. */
  commit(position: number): void;
  close(): void;
}

export const channelsOf = (taps: readonly Tap[]): number => taps.reduce((sum, { channels }) => sum + channels, 0);

/** Writes a block of each tap, one channel after another. Allocates nothing. */
export function readTaps(engine: Engine, taps: readonly Tap[], room: Float32Array, length: number): void {
  let at = 0;
  for (let k = 0; k < taps.length; k++) {
    const { of, slot, channels } = taps[k];
    const end = at + channels * length;
    const signal = of === 'processed' ? engine.processed(slot) : of === 'listener' ? engine.outputs[slot] : engine.taps[slot];
    // Whoever was recorded may have left since.
    if (signal === undefined) room.fill(0, at, end);
    else if (of === 'others') sumOthers(engine, slot, room, at, length);
    else {
      room.set(signal.left, at);
      if (channels === 2) room.set(signal.right, at + length);
    }
    at = end;
  }
}

function sumOthers(engine: Engine, but: number, room: Float32Array, at: number, length: number): void {
  room.fill(0, at, at + length);
  for (let n = 0; n < engine.taps.length; n++) {
    if (n === but) continue;
    const { left, right } = engine.taps[n];
    for (let i = 0; i < length; i++) room[at + i] += left[i] + right[i];
  }
}

interface Capture {
  name: string;
  taps: readonly Tap[];
  sink: BlockSink;
}

/** Any number of named captures of one engine. */
export class Captures {
  #running: Capture[] = [];

  /** From the next block on; one of the same name ends. */
  start(name: string, taps: readonly Tap[], sink: BlockSink): void {
    this.stop(name);
    this.#running = [...this.#running, { name, taps, sink }];
  }

  stop(name: string): void {
    this.#running.find((one) => one.name === name)?.sink.close();
    this.#running = this.#running.filter((one) => one.name !== name);
  }

  /** After a block is mixed. @param position clock of its first sample */
  take(engine: Engine, position: number, length: number): void {
    for (let k = 0; k < this.#running.length; k++) {
      const { taps, sink } = this.#running[k];
      const room = sink.next();
      // A reader that is a whole ring behind loses this block, and sees it by the position of the next.
      if (!room) continue;
      readTaps(engine, taps, room, length);
      sink.commit(position);
    }
  }
}
