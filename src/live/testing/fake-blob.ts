import { joinBytes } from '@/core/formats/join-bytes';

/** Bytes that are there at once: a real blob is read by another thread, which does not know of a test's own time. */
export class FakeBlob {
  readonly #bytes: Uint8Array<ArrayBuffer>;

  constructor(parts: Uint8Array<ArrayBuffer>[]) {
    this.#bytes = joinBytes(parts);
  }

  get size(): number {
    return this.#bytes.length;
  }

  arrayBuffer(): Promise<ArrayBuffer> {
    return Promise.resolve(this.#bytes.buffer);
  }
}
