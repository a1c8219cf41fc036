import { bind, boundTo, type MidiBinding, type MidiMessage, type MidiTarget } from '@/core/session/midi-bindings';
import { sendJson } from '../api';
import type { MidiSlice, MidiState, Own } from '../desk/desk-state';
import { listenToMidi, type MidiListening } from './midi-input';
import type { Conditions } from '../desk/conditions';

export interface DeskMidiOptions {
  store: Own<MidiSlice>;
  /** Does what a message is bound to: pressed, let go, or at a position. */
  act(target: MidiTarget, message: MidiMessage): void;
  conditions: Conditions;
}

/** Controllers that press pads and ride levels. The desk works without any. */
export class DeskMidi {
  readonly #options: DeskMidiOptions;
  #listening: MidiListening | null = null;

  constructor(options: DeskMidiOptions) {
    this.#options = options;
  }

  /** Asks the browser for the controllers there are. */
  async connect(): Promise<void> {
    this.#listening?.close();
    this.#listening = await listenToMidi({
      onMessage: (message) => this.take(message),
      onInputs: (inputs) => this.#set({ inputs }),
    });
    this.#set({ state: this.#listening.state });
  }

  showSimulated(simulated: boolean): void {
    this.#set({ simulated });
  }

  /** The next message will do this; null to learn nothing. */
  learn(learning: MidiTarget | null): void {
    this.#set({ learning });
  }

  forget(binding: MidiBinding): void {
    this.#keep(this.#midi().bindings.filter((one) => one !== binding));
  }

  /** A message from a controller, real or simulated. */
  take(message: MidiMessage): void {
    const { learning, bindings } = this.#midi();
    this.#set({ last: message });
    if (learning) {
      // Letting go of what was pressed before is no answer; nor is a note for a level.
      if (message.value === 0 || (learning.does === 'gain') !== (message.message === 'controller')) return;
      this.#set({ learning: null });
      return this.#keep(bind(bindings, message, learning));
    }
    const target = boundTo(bindings, message);
    if (target) this.#options.act(target, message);
  }

  #keep(bindings: MidiBinding[]): void {
    const before = this.#midi().bindings;
    this.#set({ bindings });
    const { conditions } = this.#options;
    void sendJson('PUT', '/api/midi', { bindings }).then(
      () => conditions.end('midi'),
      (error: Error) => {
        this.#set({ bindings: before });
        conditions.begin('midi', `What the controller does was not kept. ${error.message}`);
      },
    );
  }

  #midi = (): MidiState => this.#options.store.getState().midi;

  #set(change: Partial<MidiState>): void {
    this.#options.store.setState(({ midi }) => ({ midi: { ...midi, ...change } }));
  }
}
