import { MARK_BACK_SAMPLES, markerSchema, type TakeMarker } from '@/core/takes/markers';
import { z } from '@/core/zod';
import { mayPass, sendJson, ServerError } from '../api';
import { forgetLocal, readLocal, writeLocal } from '../local-storage';
import { pause } from '../pause';
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

  /** Sends what an earlier window of this browser could not. */
  sendKept(): void {
    for (const { take, marker } of readUnsent()) void this.#until(take, marker, () => isUnsent(take, marker));
  }

  /** Until the server has it, or another name of it is on its way. */
  async #send(take: string, marker: TakeMarker): Promise<void> {
    // A window that closes, or dies, while the server is away must not take it along.
    writeUnsent([...readUnsent().filter((one) => one.marker.id !== marker.id), { take, marker }]);
    await this.#until(take, marker, () => this.#options.store.getState().marks.some((one) => one.marker === marker));
  }

  async #until(take: string, marker: TakeMarker, isCurrent: () => boolean): Promise<void> {
    while (isCurrent()) {
      const answer = await sendJson('POST', `/api/takes/${take}/markers`, marker).catch((error: ServerError) => error);
      // Kept, or never to be: its take is gone.
      if (!(answer instanceof ServerError) || !mayPass(answer.status)) return writeUnsent(readUnsent().filter((one) => !isSame(one, { take, marker })));
      await pause(AGAIN_MS);
    }
  }
}

const UNSENT = 'brisk-lantern.unsent-marks';
const unsentSchema = z.array(z.object({ take: z.string(), marker: markerSchema }));
type UnsentMark = z.infer<typeof unsentSchema>[number];

const readUnsent = (): UnsentMark[] => readLocal(UNSENT, unsentSchema) ?? [];
const writeUnsent = (unsent: readonly UnsentMark[]): void => (unsent.length > 0 ? writeLocal(UNSENT, unsent) : forgetLocal(UNSENT));
const isSame = (one: UnsentMark, other: UnsentMark): boolean => one.take === other.take && one.marker.id === other.marker.id && one.marker.name === other.marker.name;
const isUnsent = (take: string, marker: TakeMarker): boolean => readUnsent().some((one) => isSame(one, { take, marker }));
