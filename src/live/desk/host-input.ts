import type { InputChoice } from '@/core/devices/choices';
import type { DeviceInput } from '../devices/device-input';
import type { HostVoiceSlice, Own } from './desk-state';
import type { Conditions } from './conditions';

interface HostInputOptions {
  store: Own<HostVoiceSlice>;
  /** The host's own way in by a device. */
  device(changed: (news?: string) => void): DeviceInput;
  /** The microphone the host chose; null where none was chosen yet. */
  chosen(): Omit<InputChoice, 'source'> | null;
  /** Whether the simulated voice speaks in place of the host. */
  practise(speaks: boolean): void;
  /** The simulated voice begins in place of a microphone. */
  media(flowing: boolean): void;
  conditions: Conditions;
}

/** Without a choice, what the browser offers: its first channel, which is where microphones are. */
const WHATEVER: Omit<InputChoice, 'source'> = { device: '', channels: 'left' };

/**
 * Where the host's voice comes from: a microphone, or the practice call where there is none or the host prefers it.
 * Another choice in a running call changes this one source and nothing else.
 */
export class HostInput {
  readonly #options: HostInputOptions;
  readonly #device: DeviceInput;
  #open = false;
  #choosing = 0;
  #speaks: boolean | null = null;

  constructor(options: HostInputOptions) {
    this.#options = options;
    this.#device = options.device((news) => this.#changed(news));
  }

  /** A call begins: connects the microphone where it can be had; says otherwise why not. */
  async open(): Promise<void> {
    this.#open = true;
    this.#speaks = null;
    await this.choose();
  }

  /** The simulated voice, or a microphone again, from now on. */
  async prefer(preferPractice: boolean): Promise<void> {
    this.#options.store.setState({ preferPractice });
    await this.choose();
  }

  /** Takes what the host prefers now, in place of what there was. */
  async choose(): Promise<void> {
    if (!this.#open) return;
    const choosing = ++this.#choosing;
    // Another one: what was with the last is over.
    this.#options.conditions.end('microphone');
    const { store, chosen } = this.#options;
    if (store.getState().preferPractice) {
      await this.#device.use(null);
      return this.#practise('you chose it');
    }
    await this.#device.use(chosen() ?? WHATEVER);
    if (choosing !== this.#choosing || !this.#open) return;
    if (this.#device.state === 'refused') this.#practise(this.#device.reason);
    else this.#show();
  }

  close(): void {
    this.#open = false;
    this.#choosing++;
    this.#options.conditions.end('microphone');
    this.#device.close();
    this.#options.store.setState({ voice: { from: 'nothing', reason: 'no call runs' } });
  }

  #practise(reason: string): void {
    const { store, media } = this.#options;
    const canSpeak = store.getState().seats.some(({ role, practice }) => role === 'host' && practice !== null);
    this.#speak(canSpeak);
    if (canSpeak) media(true);
    store.setState({ voice: canSpeak ? { from: 'practice', reason } : { from: 'nothing', reason } });
  }

  #speak(speaks: boolean): void {
    if (speaks !== this.#speaks) this.#options.practise(speaks);
    this.#speaks = speaks;
  }

  #show(): void {
    const { store } = this.#options;
    const { state, label } = this.#device;
    if (state !== 'open' && state !== 'away') return;
    this.#speak(false);
    store.setState({ voice: { from: state === 'open' ? 'microphone' : 'lost', label } });
  }

  #changed(news?: string): void {
    if (!this.#open) return;
    this.#show();
    if (!news) return;
    const { label } = this.#device;
    if (this.#device.state === 'away') this.#options.conditions.begin('microphone', `Your microphone “${label}” went away: your track is silent from here on, everything else goes on. Plug it in again; it is taken up by itself.`);
    else this.#options.conditions.news('microphone', `Your microphone “${label}” is back and is used again.`);
  }
}
