import type { HearingPlan } from '@/core/hearing/plan';
import type { AudioDesk } from '../desk/audio-desk';
import type { StripDesk } from './strip-desk';
import { NO_NOISE } from './strip-state';
import type { NoiseTimed } from './noise-time-messages';

const wants = ({ processing }: HearingPlan): boolean => Object.values(processing).some((strip) => strip?.noise.on);

/** Brings noise suppression to the audio thread once somebody's strip asks for it, and finds out how many voices this machine carries. */
export class NoiseSuppressionLoader {
  readonly #desk: StripDesk;
  #given: AudioDesk | null = null;
  #module: Promise<WebAssembly.Module> | null = null;

  constructor(desk: StripDesk) {
    this.#desk = desk;
    desk.store.subscribe((now, before) => {
      if (now.plan.processing !== before.plan.processing || now.call !== before.call) this.#look();
    });
  }

  /** Fetches it and measures; whoever looks at a strip wants to know how many voices there may be. */
  async prepare(): Promise<void> {
    if (this.#desk.store.getState().noise.mostVoices !== null) return;
    try {
      const mostVoices = await timeOf(await this.#load());
      this.#desk.store.setState(({ noise }) => ({ noise: { ...noise, mostVoices } }));
    } catch {
      this.#failed();
    }
  }

  #look(): void {
    const { plan, call } = this.#desk.store.getState();
    const audio = this.#desk.audio();
    if (call !== 'running' || !audio || !wants(plan) || audio === this.#given) return;
    this.#given = audio;
    this.#desk.store.setState(({ noise }) => ({ noise: { ...noise, state: 'loading' } }));
    void this.#load().then(
      (module) => {
        audio.tell({ type: 'noise-suppression', module });
        this.#desk.store.setState(({ noise }) => ({ noise: { ...noise, state: 'on' } }));
        this.#desk.conditions.end('noise');
        void this.prepare();
      },
      () => this.#failed(),
    );
  }

  #load(): Promise<WebAssembly.Module> {
    this.#module ??= fetch(new URL('../generated/rnnoise.wasm', import.meta.url)).then((response) => WebAssembly.compileStreaming(response));
    return this.#module;
  }

  #failed(): void {
    this.#module = this.#given = null;
    this.#desk.store.setState({ noise: { ...NO_NOISE, state: 'failed' } });
    this.#desk.conditions.begin('noise', 'Noise suppression could not be loaded; voices pass as they are. Switch it on once more to try again.');
  }
}

function timeOf(module: WebAssembly.Module): Promise<number> {
  return new Promise((known, failed) => {
    const worker = new Worker(new URL('../generated/noise-time.worker.js', import.meta.url));
    worker.onmessage = ({ data }: MessageEvent<NoiseTimed>) => {
      worker.terminate();
      known(data.mostVoices);
    };
    worker.onerror = () => failed(new Error('It could not be measured.'));
    worker.postMessage(module);
  });
}
