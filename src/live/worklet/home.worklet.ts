/// <reference types="audioworklet" />
import { RING_BLOCK, ringWriter, type RingWriter } from '../recorder/ring';

/** Puts what the microphone hears into a ring, block by block, silence while there is none. Told to close, it ends. */
class HomeProcessor extends AudioWorkletProcessor {
  readonly #ring: RingWriter;
  #frames = 0;
  #closed = false;

  constructor({ processorOptions }: { processorOptions: { ring: SharedArrayBuffer } }) {
    super();
    this.#ring = ringWriter(processorOptions.ring, 1);
    this.port.onmessage = () => {
      this.#closed = true;
      this.#ring.close();
    };
  }

  process([[channel]]: Float32Array[][]): boolean {
    if (this.#closed) return false;
    const room = this.#ring.next();
    // A full ring loses this block; the reader sees the jump in position and puts silence there.
    if (room) {
      if (channel) room.set(channel);
      else room.fill(0);
      this.#ring.commit(this.#frames);
    }
    this.#frames += RING_BLOCK;
    return true;
  }
}

registerProcessor('home-processor', HomeProcessor);
