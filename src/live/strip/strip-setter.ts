import { setStrip } from '@/core/hearing/edit';
import type { SourceId } from '@/core/hearing/ids';
import { stripOf } from '@/core/hearing/processing';
import { LEAST_SPOKEN_SECONDS, setForVoice } from '@/core/strip/set-for-voice';
import { ringBytes } from '../recorder/ring';
import type { StripDesk } from './strip-desk';
import type { ListenToVoice, VoiceHeard } from './strip-messages';

const CAPTURE = 'a voice for its strip';
const RING_BLOCKS = 1000;
/** It listens for so long, and longer only until enough was said. */
const LISTEN_SECONDS = 10;
const MOST_SECONDS = 45;

/** Listens to ten seconds of a voice and sets its strip by what it measured. */
export class StripSetter {
  readonly #desk: StripDesk;
  #worker: Worker | null = null;

  constructor(desk: StripDesk) {
    this.#desk = desk;
  }

  start(source: SourceId): void {
    this.stop();
    const audio = this.#desk.audio();
    const slot = this.#desk.plan.compiled().sourceIds.indexOf(source);
    if (!audio || slot < 0) return;
    const ring = new SharedArrayBuffer(ringBytes(1, RING_BLOCKS));
    const worker = new Worker(new URL('./listen.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<VoiceHeard>) => this.#heard(source, data);
    worker.postMessage({ ring } satisfies ListenToVoice);
    audio.tell({ type: 'capture', name: CAPTURE, ring, taps: [{ of: 'source', slot, channels: 1 }] });
    this.#worker = worker;
    this.#desk.store.setState({ stripListening: { source, phase: 'listening', spokenSeconds: 0, reasons: [] } });
  }

  /** Listens no longer; what was found stays on the screen. */
  stop(): void {
    if (!this.#worker) return;
    this.#worker.terminate();
    this.#worker = null;
    this.#desk.audio()?.tell({ type: 'capture', name: CAPTURE, ring: null });
    this.#desk.store.setState(({ stripListening }) => ({ stripListening: stripListening?.phase === 'listening' ? null : stripListening }));
  }

  #heard(source: SourceId, { seconds, facts }: VoiceHeard): void {
    const { store, plan } = this.#desk;
    const { spokenSeconds } = facts;
    if (seconds < LISTEN_SECONDS || (spokenSeconds < LEAST_SPOKEN_SECONDS && seconds < MOST_SECONDS)) {
      store.setState({ stripListening: { source, phase: 'listening', spokenSeconds, reasons: [] } });
      return;
    }
    const proposal = setForVoice(stripOf(store.getState().plan, source), facts);
    if (proposal) plan.change((current) => setStrip(current, source, () => proposal.strip));
    store.setState({ stripListening: { source, phase: proposal ? 'set' : 'too-little', spokenSeconds, reasons: proposal?.reasons ?? [] } });
    this.stop();
  }
}
