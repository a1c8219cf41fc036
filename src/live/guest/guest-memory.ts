import type { GuestState } from './guest-state';

/** What is remembered over a reload of this window. */
export interface Remembered {
  name: string;
  ready: boolean;
  deviceId: string | null;
  echoCancellation: boolean;
  headphones: GuestState['headphones'];
  muted: boolean;
}

/** Keeps with the window, for as long as it is open, where its guest is: a reload goes on there. */
export class GuestMemory {
  readonly #key: string;

  constructor(seat: string, token: string) {
    this.#key = `brisk-lantern-guest-${seat}-${token.slice(0, 8)}`;
  }

  recall(): Remembered | null {
    const text = sessionStorage.getItem(this.#key);
    return text === null ? null : (JSON.parse(text) as Remembered);
  }

  /** Who has not yet agreed, or has left, begins anew. */
  remember({ phase, name, microphone, echoCancellation, headphones, muted }: GuestState): void {
    if (phase === 'opened' || phase === 'left') return;
    const kept: Remembered = {
      name,
      ready: phase === 'ready',
      deviceId: microphone.kind === 'open' ? microphone.deviceId : (this.recall()?.deviceId ?? null),
      echoCancellation,
      headphones: headphones.state === 'testing' ? { state: 'untested' } : headphones,
      muted,
    };
    sessionStorage.setItem(this.#key, JSON.stringify(kept));
  }

  forget(): void {
    sessionStorage.removeItem(this.#key);
  }
}
