/** Stands for workers: what they are told is written down, and a test speaks for them. */
export class FakeWorker {
  static all: FakeWorker[] = [];
  readonly heard: unknown[] = [];
  terminated = false;
  onmessage: ((event: { data: unknown }) => void) | null = null;
  onerror: (() => void) | null = null;

  constructor() {
    FakeWorker.all.push(this);
  }

  /** The newest one. */
  static last(): FakeWorker {
    return FakeWorker.all.at(-1)!;
  }

  postMessage(message: unknown): void {
    this.heard.push(message);
  }

  terminate(): void {
    this.terminated = true;
  }

  say(data: unknown): void {
    this.onmessage?.({ data });
  }
}
