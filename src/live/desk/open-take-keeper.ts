import { sendJson } from '../api';
import type { FromRecorder, KeptSituation } from '../recorder/messages';
import { keptTakes } from '../recorder/read-kept';
import { RING_BLOCK } from '../recorder/ring';
import { recoverTake, type TakeRecovery } from '../recorder/take-recovery';
import type { OpenTake, Own, RecordingSlice } from './desk-state';
import type { Conditions } from './conditions';

const SAMPLES_PER_MS = 48;

/** A take that is gone on with: what it was, and how to do it. */
export interface GoingOn extends KeptSituation {
  take: OpenTake;
  /** The first sample of the take that is captured again. */
  atSample: number;
  recovery: TakeRecovery;
}

export interface OpenTakeKeeperOptions {
  store: Own<RecordingSlice>;
  conditions: Conditions;
  signedOut(): void;
  /** What is said of a take that is gone on with. */
  onRecorder(message: FromRecorder): void;
}

/** Deals with a take that an earlier desk left open: sends what this computer kept of it, seals it, or goes on with it. */
export class OpenTakeKeeper {
  readonly #options: OpenTakeKeeperOptions;
  #recovery: TakeRecovery | null = null;
  #situation: KeptSituation | null = null;
  #goingOn = false;

  constructor(options: OpenTakeKeeperOptions) {
    this.#options = options;
  }

  /** The take that is open by the server's account; null for none. */
  adopt(openTake: OpenTake | null): void {
    this.#options.store.setState({ openTake });
  }

  /** Looks for the rest of the take on this computer's disk, and sends it. */
  async find(): Promise<void> {
    const { openTake, recording } = this.#options.store.getState();
    if (!openTake || recording || this.#recovery || !(await keptTakes()).includes(openTake.id)) return;
    this.#goingOn = false;
    this.#recovery = recoverTake(openTake.id, (message) => (this.#goingOn ? this.#options.onRecorder(message) : this.#hear(openTake.id, message)));
    this.#update(openTake.id, { kept: { phase: 'sending', lengthSamples: 0 } });
  }

  /** What stood in the way may be gone. */
  tryAgain(): void {
    this.#recovery?.tryAgain();
  }

  /** Seals it: whole where this computer kept it, else with what the server has. */
  async seal(): Promise<void> {
    const { store, conditions } = this.#options;
    const { openTake } = store.getState();
    if (!openTake || openTake.kept?.phase === 'sending') return;
    conditions.end('seal');
    if (this.#recovery) return this.#recovery.seal();
    try {
      const { lengthSamples } = await sendJson<{ lengthSamples: number }>('POST', `/api/takes/${openTake.id}/seal`, { lengthSamples: null });
      store.setState({ openTake: null, lastTake: { ...openTake, lengthSamples, lostSamples: 0 } });
    } catch (error) {
      conditions.begin('seal', `Take ${openTake.number} was not sealed. ${(error as Error).message}`);
    }
  }

  /** Hands the take over to be gone on with, later by the time that no desk was there. Null when this computer did not keep it. */
  goOn(): GoingOn | null {
    const { openTake } = this.#options.store.getState();
    const [recovery, situation] = [this.#recovery, this.#situation];
    if (!openTake?.kept || openTake.kept.phase === 'sending' || !recovery || !situation) return null;
    const { sample, at } = situation.time ?? { sample: openTake.kept.lengthSamples, at: Date.now() };
    const later = Math.max(openTake.kept.lengthSamples, sample + (Date.now() - at) * SAMPLES_PER_MS);
    // Records are kept by whole blocks of the take, whichever engine they come from.
    const atSample = Math.ceil(later / RING_BLOCK) * RING_BLOCK;
    this.#goingOn = true;
    this.#recovery = null;
    this.#situation = null;
    this.#options.store.setState({ openTake: null });
    return { ...situation, take: openTake, atSample, recovery };
  }

  #hear(id: string, message: FromRecorder): void {
    const { store, conditions } = this.#options;
    const { openTake } = store.getState();
    switch (message.type) {
      case 'recovered': {
        const { tracks, lineGaps, leftOut, time, lengthSamples } = message;
        this.#situation = { tracks, lineGaps, leftOut, time };
        return this.#update(id, { kept: { phase: 'sent', lengthSamples } });
      }
      case 'sealed':
        this.#close();
        conditions.end('kept-take');
        if (openTake?.id === id) store.setState({ openTake: null, lastTake: { id, number: openTake.number, lengthSamples: message.lengthSamples, lostSamples: message.lostSamples } });
        return;
      // A recovery has no ring: it reports only what it has sent.
      case 'ready':
      case 'added':
      case 'captured':
        return;
      case 'progress':
        if (message.waiting?.code === 'sign-in') this.#options.signedOut();
        return;
      case 'trouble':
        return conditions.begin('kept-take', message.message);
      case 'failed':
        this.#close();
        this.#update(id, { kept: undefined });
        return conditions.begin('kept-take', `The rest of the take that is kept on this computer could not be sent; it stays here. ${message.message}`);
    }
  }

  #close(): void {
    this.#recovery?.close();
    this.#recovery = null;
  }

  #update(id: string, change: Partial<OpenTake>): void {
    this.#options.store.setState(({ openTake }) => ({ openTake: openTake?.id === id ? { ...openTake, ...change } : openTake }));
  }
}

