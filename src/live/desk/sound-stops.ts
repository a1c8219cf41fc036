import type { Own, SoundStopsSlice } from './desk-state';
import type { Conditions } from './conditions';

export interface SoundStopsOptions {
  store: Own<SoundStopsSlice>;
  /** Whether a take runs. */
  recording(): boolean;
  note(words: string): void;
  conditions: Conditions;
}

/** Notices when the browser stops the sound of a call, and says afterwards for how long. */
export class SoundStops {
  readonly #options: SoundStopsOptions;
  #stoppedAt = 0;

  constructor(options: SoundStopsOptions) {
    this.#options = options;
  }

  /** No call runs. */
  rest(): void {
    this.#options.store.setState({ soundStopped: false });
  }

  /** The state of the call's sound may have changed. */
  look(context: AudioContext): void {
    const { store, recording, note, conditions } = this.#options;
    const { call, soundStopped } = store.getState();
    const stopped = context.state !== 'running';
    if (call !== 'running' || stopped === soundStopped) return;
    store.setState({ soundStopped: stopped });
    if (stopped) {
      this.#stoppedAt = performance.now();
      return;
    }
    const seconds = Math.max(1, Math.round((performance.now() - this.#stoppedAt) / 1000));
    const onTake = recording();
    if (onTake) note(`The browser stopped the sound for ${seconds} s`);
    conditions.begin('sound-stopped', `The browser had stopped the sound for ${seconds} s.${onTake ? ' The take has nothing of that time; its place is marked.' : ''}`);
  }
}
