import { namesOf } from '@/core/devices/known-devices';
import type { TakePlugs } from '@/core/takes/plugs';
import { sendJson } from '../api';
import type { PluggedState } from '../devices/plugged-state';
import type { DeskReader } from './desk-state';

const TRY_AGAIN_MS = 5000;

/** What is plugged in where, devices by their names. */
export function plugsNow({ choices, devices, inputs, outlets }: PluggedState, atSample: number): TakePlugs {
  const names = namesOf(devices.known);
  return {
    atSample,
    inputs: choices.inputs.map(({ source, device, channels }) => ({ source, device: inputs[source]?.label || (names.get(device) ?? ''), channels })),
    outlets: choices.outlets.map(({ id, listener, device, channels, offsetMs }) => ({ listener, device: outlets[id]?.label || (names.get(device) ?? ''), channels, offsetMs })),
  };
}

/** Keeps with a take what was plugged in where, from its beginning on and whenever that changes. */
export class PlugLog {
  readonly #store: DeskReader;
  #stop: (() => void) | null = null;
  #unsent: TakePlugs[] = [];
  #sending = false;

  constructor(store: DeskReader) {
    this.#store = store;
  }

  /** @param now the take's sample at this moment */
  begin(take: string, now: () => number): void {
    this.end();
    this.#unsent = [];
    const keep = (): void => {
      this.#unsent.push(plugsNow(this.#store.getState().plugged, now()));
      void this.#send(take);
    };
    keep();
    this.#stop = this.#store.subscribe((state, before) => {
      if (state.plugged.choices !== before.plugged.choices) keep();
    });
  }

  end(): void {
    this.#stop?.();
    this.#stop = null;
  }

  async #send(take: string): Promise<void> {
    if (this.#sending) return;
    this.#sending = true;
    while (this.#unsent.length > 0) {
      try {
        await sendJson('POST', `/api/takes/${take}/plugs`, this.#unsent[0]);
        this.#unsent.shift();
      } catch {
        // The server is away: it is told when the take says so, or with the next change.
        if (!this.#stop) break;
        await new Promise((resolve) => setTimeout(resolve, TRY_AGAIN_MS));
      }
    }
    this.#sending = false;
  }
}
