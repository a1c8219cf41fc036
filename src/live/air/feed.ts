import type { Broadcast } from '@/core/air/broadcast';
import type { StationSettings } from '@/core/air/station';
import type { Tap } from '@/core/session/captures';
import type { AudioDesk } from '../desk/audio-desk';
import { ringBytes } from '../recorder/ring';
import type { FeedReading, FeedRequest, FromFeed } from './air-messages';

export interface FeedHandlers {
  reading(reading: FeedReading): void;
  state(broadcast: Broadcast): void;
  ended(reason: string): void;
}

/** One mix on its way to the air: a capture, and a thread that codes and sends it. */
export class Feed {
  readonly #audio: AudioDesk;
  readonly #name: string;
  readonly #ring = new SharedArrayBuffer(ringBytes(2));
  readonly #worker: Worker;
  #slot = -1;

  constructor(audio: AudioDesk, broadcast: Broadcast, settings: StationSettings, options: { url: string; session: number; targetLufs: number | null }, handlers: FeedHandlers) {
    this.#audio = audio;
    this.#name = `air ${broadcast.id}`;
    this.#worker = new Worker(new URL('./feed.worker.ts', import.meta.url), { type: 'module' });
    this.#worker.onmessage = ({ data }: MessageEvent<FromFeed>) => {
      if (data.type === 'reading') handlers.reading(data.reading);
      else if (data.type === 'state') handlers.state(data.broadcast);
      else handlers.ended(data.reason);
    };
    this.#worker.onerror = () => handlers.ended('The encoder could not be started in this browser.');
    this.#worker.postMessage({ ring: this.#ring, coding: settings.coding, nextPiece: broadcast.nextPiece, ...options } satisfies FeedRequest);
  }

  /** From which output of the engine it comes. */
  follow(slot: number): void {
    if (slot === this.#slot || slot < 0) return;
    this.#slot = slot;
    const taps: Tap[] = [{ of: 'listener', slot, channels: 2 }];
    this.#audio.tell({ type: 'capture', name: this.#name, ring: this.#ring, taps });
  }

  close(): void {
    this.#audio.tell({ type: 'capture', name: this.#name, ring: null });
    this.#worker.terminate();
  }
}
