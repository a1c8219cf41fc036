/// <reference types="audioworklet" />

/** Samples sent to the page at once. */
const PACKET = 2048;

/** Hands what it hears to the page, with the context's frame at which each packet begins. */
class CaptureProcessor extends AudioWorkletProcessor {
  #packet = new Float32Array(PACKET);
  #filled = 0;

  process([[channel]]: Float32Array[][]): boolean {
    if (!channel) return true;
    if (this.#filled + channel.length > PACKET) this.#send();
    this.#packet.set(channel, this.#filled);
    this.#filled += channel.length;
    return true;
  }

  #send(): void {
    const samples = this.#packet.slice(0, this.#filled);
    this.port.postMessage({ atFrame: currentFrame - this.#filled, samples }, [samples.buffer]);
    this.#filled = 0;
  }
}

registerProcessor('capture-processor', CaptureProcessor);
