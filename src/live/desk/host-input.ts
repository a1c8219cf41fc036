import type { StoreApi } from 'zustand/vanilla';
import type { AudioDesk } from './audio-desk';
import type { DeskState } from './desk-state';
import { openMicrophone, type Microphone } from './microphone';

interface HostInputOptions {
  store: StoreApi<DeskState>;
  /** The microphone feeds the engine now, or no longer does. */
  connected(): void;
  trouble(sentence: string): void;
}

/** Where the host's voice comes from: a microphone, or the practice call where there is none or the host prefers it. */
export class HostInput {
  readonly #options: HostInputOptions;
  #microphone: Microphone | null = null;

  constructor(options: HostInputOptions) {
    this.#options = options;
  }

  /** Whether the engine gets a microphone's sound now. */
  feeding(): boolean {
    return this.#microphone !== null;
  }

  /** Connects the microphone where it can be had; says otherwise why not. Whether it could. */
  async find(audio: AudioDesk): Promise<boolean> {
    this.close();
    const { store, trouble } = this.#options;
    if (store.getState().preferPractice) return this.#practise('you chose it');
    const result = await openMicrophone(audio.context, null, () => {
      store.setState({ voice: { from: 'nothing' } });
      trouble('Your microphone went away. Plug it in again, then end and start the call.');
    });
    if (!result.found) return this.#practise(result.reason);
    this.#microphone = result.microphone;
    result.microphone.node.connect(audio.node, 0, 0);
    this.#options.connected();
    store.setState({ voice: { from: 'microphone', label: result.microphone.label } });
    return true;
  }

  close(): void {
    this.#microphone?.close();
    this.#microphone = null;
  }

  #practise(reason: string): false {
    this.#options.connected();
    this.#options.store.setState({ voice: { from: 'practice', reason } });
    return false;
  }
}
