import type { StoreApi } from 'zustand/vanilla';
import type { AudioDesk } from './audio-desk';
import type { DeskState } from './desk-state';
import { openMicrophone, type Microphone } from './microphone';

interface HostInputOptions {
  store: StoreApi<DeskState>;
  /** The microphone feeds the engine now, or no longer does. */
  connected(): void;
  /** Whether the simulated voice speaks in place of the host. */
  practise(speaks: boolean): void;
  /** The microphone's sound stopped, or came back, just now. */
  media(flowing: boolean): void;
  trouble(sentence: string): void;
}

/** How often it is looked whether a lost microphone is back: the browser says so only when it is asked. */
const LOOK_EVERY_MS = 1500;

/**
 * Where the host's voice comes from: a microphone, or the practice call where there is none or the host prefers it.
 * Another choice in a running call changes this one source and nothing else.
 */
export class HostInput {
  readonly #options: HostInputOptions;
  #audio: AudioDesk | null = null;
  #microphone: Microphone | null = null;
  /** The microphone that went away, by its id. */
  #lost: { deviceId: string; label: string } | null = null;
  #looking: ReturnType<typeof setInterval> | undefined;
  /** Counts the choices: a microphone that is opened for one that was overtaken is let go of again. */
  #choice = 0;

  constructor(options: HostInputOptions) {
    this.#options = options;
  }

  /** Whether the engine gets a microphone's sound now. */
  feeding(): boolean {
    return this.#microphone !== null;
  }

  /** A call begins: connects the microphone where it can be had; says otherwise why not. */
  async open(audio: AudioDesk): Promise<void> {
    this.#audio = audio;
    this.#looking = setInterval(() => void this.#look(), LOOK_EVERY_MS);
    await this.choose();
  }

  /** Takes what the host prefers now, in place of what there was. */
  async choose(): Promise<void> {
    const choice = ++this.#choice;
    const { store } = this.#options;
    if (!this.#audio) return;
    this.#lost = null;
    if (store.getState().preferPractice) return this.#practise('you chose it');
    const result = await openMicrophone(this.#audio.context, null, () => this.#onLost());
    if (choice !== this.#choice || !this.#audio) return result.found ? result.microphone.close() : undefined;
    if (result.found) this.#use(this.#audio, result.microphone);
    else this.#practise(result.reason);
  }

  close(): void {
    this.#choice++;
    clearInterval(this.#looking);
    this.#letGo();
    this.#lost = null;
    this.#audio = null;
  }

  #use(audio: AudioDesk, microphone: Microphone): void {
    this.#letGo();
    this.#microphone = microphone;
    microphone.node.connect(audio.node, 0, 0);
    this.#options.practise(false);
    this.#options.connected();
    this.#options.media(true);
    this.#options.store.setState({ voice: { from: 'microphone', label: microphone.label } });
  }

  #practise(reason: string): void {
    this.#letGo();
    const { store, practise, connected, media } = this.#options;
    const canSpeak = store.getState().seats.some(({ role, practice }) => role === 'host' && practice !== null);
    practise(canSpeak);
    connected();
    if (canSpeak) media(true);
    store.setState({ voice: canSpeak ? { from: 'practice', reason } : { from: 'nothing', reason } });
  }

  #letGo(): void {
    this.#microphone?.close();
    this.#microphone = null;
  }

  #onLost(): void {
    if (!this.#microphone) return;
    const { deviceId, label } = this.#microphone;
    this.#letGo();
    this.#lost = { deviceId, label };
    const { store, connected, media, trouble } = this.#options;
    connected();
    media(false);
    store.setState({ voice: { from: 'lost', label } });
    trouble(`Your microphone “${label}” went away: your track is silent from here on, everything else goes on. Plug it in again; it is taken up by itself.`);
  }

  /** A microphone that went away is taken up again by its id, as soon as it is there; nothing else is switched by itself. */
  async #look(): Promise<void> {
    // Asking is also what makes the browser notice that one went.
    const devices = await navigator.mediaDevices?.enumerateDevices().catch(() => []);
    const [lost, choice, audio] = [this.#lost, this.#choice, this.#audio];
    if (!lost || !audio || !devices?.some(({ kind, deviceId }) => kind === 'audioinput' && deviceId === lost.deviceId)) return;
    const result = await openMicrophone(audio.context, lost.deviceId, () => this.#onLost());
    if (!result.found) return;
    if (choice !== this.#choice || this.#lost !== lost) return result.microphone.close();
    this.#lost = null;
    this.#use(audio, result.microphone);
    this.#options.trouble(`Your microphone “${lost.label}” is back and is used again.`);
  }
}
