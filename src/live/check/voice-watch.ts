import { sourcesOf } from '@/core/hearing/plan';
import { channelsOf, type Tap } from '@/core/session/captures';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { Own, VoicesSlice } from '../desk/desk-state';
import { ringBytes } from '../recorder/ring';
import type { VoicesRead, WatchVoices } from './watch-messages';

const CAPTURE = 'everybody’s sound';
const RING_BLOCKS = 1000;

/** Listens to every voice while somebody looks at how they sound. */
export class VoiceWatch {
  readonly #store: Own<VoicesSlice>;
  readonly #plan: DeskPlan;
  readonly #audio: () => AudioDesk | null;
  #worker: Worker | null = null;
  #wanted = false;
  #watched = '';

  constructor(store: Own<VoicesSlice>, plan: DeskPlan, audio: () => AudioDesk | null) {
    this.#store = store;
    this.#plan = plan;
    this.#audio = audio;
    // Who is in the plan may change, and so may where they are.
    store.subscribe((now, before) => {
      if (this.#wanted && (now.plan.seats !== before.plan.seats || now.call !== before.call)) this.#follow();
    });
  }

  /** Somebody looks, or nobody does any more. */
  want(wanted: boolean): void {
    this.#wanted = wanted;
    this.#follow();
  }

  #follow(): void {
    const audio = this.#store.getState().call === 'running' ? this.#audio() : null;
    const compiled = this.#plan.compiled();
    const voices = this.#wanted && audio ? sourcesOf(this.#store.getState().plan).filter(({ kind }) => kind === 'voice') : [];
    const taps = voices.map(({ id }): Tap => ({ of: 'source', slot: compiled.sourceIds.indexOf(id), channels: 1 }));
    const watched = taps.map(({ slot }) => slot).join();
    if (watched === this.#watched) return;
    this.#watched = watched;
    this.#worker?.terminate();
    this.#worker = null;
    this.#store.setState({ voices: {} });
    if (!audio) return;
    if (taps.length === 0) return audio.tell({ type: 'capture', name: CAPTURE, ring: null });
    const ring = new SharedArrayBuffer(ringBytes(channelsOf(taps), RING_BLOCKS));
    const worker = new Worker(new URL('./voice-watch.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<VoicesRead>) => this.#store.setState({ voices: data });
    worker.postMessage({ ring, sources: voices.map(({ id }) => id) } satisfies WatchVoices);
    audio.tell({ type: 'capture', name: CAPTURE, ring, taps });
    this.#worker = worker;
  }
}
