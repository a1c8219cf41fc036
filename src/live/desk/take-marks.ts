import { MARK_BACK_SAMPLES, type TakeMarker } from '@/core/takes/markers';
import { sendJson } from '../api';
import type { MarksSlice, Own } from './desk-state';

const AGAIN_MS = 3000;

export interface TakeMarksOptions {
  store: Own<MarksSlice>;
  /** The take that is recorded and how far it is, samples; null while there is none. */
  now(): { take: string; sample: number } | null;
}

/** Marks set while a take is recorded. One that the server does not get is sent again. */
export class TakeMarks {
  readonly #options: TakeMarksOptions;

  constructor(options: TakeMarksOptions) {
    this.#options = options;
  }

  /** Marks this moment, or the last half minute. */
  mark(back: boolean): void {
    const now = this.#options.now();
    if (!now) return;
    const { marks } = this.#options.store.getState();
    this.#add(now, back ? Math.max(0, now.sample - MARK_BACK_SAMPLES) : now.sample, `${back ? 'The last half minute' : 'Mark'} ${marks.length + 1}`);
  }

  /** Notes that something happened at this moment. */
  note(name: string): void {
    const now = this.#options.now();
    if (now) this.#add(now, now.sample, name);
  }

  #add({ take, sample }: { take: string; sample: number }, atSample: number, name: string): void {
    const marker: TakeMarker = { id: crypto.randomUUID(), atSample, lengthSamples: sample - atSample, name };
    this.#options.store.setState(({ marks }) => ({ marks: [...marks, { take, marker }] }));
    void this.#send(take, marker);
  }

  rename(id: string, name: string): void {
    const wanted = name.trim();
    const found = this.#options.store.getState().marks.find(({ marker }) => marker.id === id);
    if (!found || wanted === '' || wanted === found.marker.name) return;
    const marker = { ...found.marker, name: wanted };
    this.#options.store.setState(({ marks }) => ({ marks: marks.map((one) => (one.marker.id === id ? { ...one, marker } : one)) }));
    void this.#send(found.take, marker);
  }

  /** Until it is kept, or another name of it is on its way. */
  async #send(take: string, marker: TakeMarker): Promise<void> {
    const isCurrent = () => this.#options.store.getState().marks.some((one) => one.marker === marker);
    while (isCurrent()) {
      const kept = await sendJson('POST', `/api/takes/${take}/markers`, marker).then(() => true, () => false);
      if (kept) return;
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }
}
