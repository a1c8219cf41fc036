import { newSoundRing } from '@/core/dsp/sound-ring';
import type { AudioDesk } from '../desk/audio-desk';
import { openContext } from '../devices/open-context';
import { phonesDevice } from '../devices/phones-device';
import { ringBytes } from '../recorder/ring';
import { RING_PROCESSOR } from '../worklet/outlet-messages';
import type { AirState } from './air-state';
import type { FromHearing, HearRequest } from './hear-messages';

const CAPTURE = 'heard on the air';

export interface HearAirOptions {
  audio(): AudioDesk | null;
  /** The engine's output a broadcast carries. */
  slotOf(broadcast: string): number;
  changed(heard: AirState['heard']): void;
}

/**
 * What the audience hears, from the station's own server, in the host's phones: it comes from outside the engine and goes
 * nowhere else, so that it can never be in the call. How late it is, is measured by its sound.
 */
export class HearAir {
  readonly #options: HearAirOptions;
  #end: (() => void) | null = null;
  #turn = 0;

  constructor(options: HearAirOptions) {
    this.#options = options;
  }

  /** Null for nothing. */
  choose(broadcast: string | null, url: string): void {
    this.#end?.();
    this.#end = null;
    const turn = ++this.#turn;
    const audio = this.#options.audio();
    if (broadcast === null || !audio) return this.#options.changed(null);
    this.#options.changed({ broadcast, delayMs: null, trouble: '' });
    this.#play(audio, broadcast, url).then(
      (end) => (turn === this.#turn ? (this.#end = end) : end()),
      (error: Error) => turn === this.#turn && this.#options.changed({ broadcast, delayMs: null, trouble: error.message }),
    );
  }

  async #play(audio: AudioDesk, broadcast: string, url: string): Promise<() => void> {
    const context = openContext(await phonesDevice());
    const element = new Audio(url);
    const end: (() => void)[] = [() => void context.close(), () => element.removeAttribute('src'), () => element.load()];
    try {
      await context.audioWorklet.addModule(new URL('../generated/ring.worklet.js', import.meta.url));
      const ring = newSoundRing();
      const source = context.createMediaElementSource(element);
      const node = new AudioWorkletNode(context, RING_PROCESSOR, { numberOfOutputs: 1, outputChannelCount: [2], processorOptions: { ring: ring.memory } });
      source.connect(context.destination);
      source.connect(node).connect(new GainNode(context, { gain: 0 })).connect(context.destination);
      const sent = new SharedArrayBuffer(ringBytes(1));
      audio.tell({ type: 'capture', name: CAPTURE, ring: sent, taps: [{ of: 'listener', slot: this.#options.slotOf(broadcast), channels: 1 }] });
      const worker = new Worker(new URL('./hear.worker.ts', import.meta.url), { type: 'module' });
      worker.onmessage = ({ data }: MessageEvent<FromHearing>) => this.#options.changed({ broadcast, delayMs: data, trouble: '' });
      worker.postMessage({ sent, heard: ring.memory } satisfies HearRequest);
      end.push(
        () => worker.terminate(),
        () => audio.tell({ type: 'capture', name: CAPTURE, ring: null }),
        () => node.port.postMessage('close'),
      );
      const stopped = (): void => this.#options.changed({ broadcast, delayMs: null, trouble: 'The stream cannot be heard any more: its server may be away.' });
      element.addEventListener('ended', stopped);
      element.addEventListener('error', stopped);
      end.unshift(() => element.removeEventListener('ended', stopped), () => element.removeEventListener('error', stopped));
      await element.play().catch(() => {
        throw new Error('The station gives nothing to hear yet. Try again in a few seconds.');
      });
    } catch (error) {
      for (const one of end) one();
      throw error;
    }
    return () => end.forEach((one) => one());
  }
}
