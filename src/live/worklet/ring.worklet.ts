/// <reference types="audioworklet" />
import { RATE, soundRing, writeSound, type SoundRing } from '@/core/dsp/sound-ring';
import { RING_PROCESSOR } from './outlet-messages';

/** Brings what a node hears into a ring, in browsers that do not let a track be read by a thread of its own. */
class RingProcessor extends AudioWorkletProcessor {
  readonly #ring: SoundRing;
  #closed = false;

  constructor({ processorOptions }: { processorOptions: { ring: SharedArrayBuffer } }) {
    super();
    this.#ring = soundRing(processorOptions.ring);
    this.#ring.counters[RATE] = sampleRate;
    this.port.onmessage = () => (this.#closed = true);
  }

  process([[left, right]]: Float32Array[][]): boolean {
    if (left) writeSound(this.#ring, left, right ?? left, left.length, Date.now());
    return !this.#closed;
  }
}

registerProcessor(RING_PROCESSOR, RingProcessor);
