import type { SourceId } from '@/core/hearing/ids';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { CancellingSlice, Own } from '../desk/desk-state';
import { watchedPairs } from './watched-pairs';

/** What is reckoned with where the level is not known yet, dB. */
const USUAL_DB = -20;
/** The canceller follows small moves by itself, ms. */
const MOVED_MS = 10;

/** Echoes that are cancelled here, in the mixes and not on the track, for as long as the host wishes. */
export class EchoCancels {
  readonly #store: Own<CancellingSlice>;
  readonly #plan: DeskPlan;
  readonly #audio: () => AudioDesk | null;
  /** Where each echo was when that was last told, ms. */
  readonly #told = new Map<SourceId, number>();

  constructor(store: Own<CancellingSlice>, plan: DeskPlan, audio: () => AudioDesk | null) {
    this.#store = store;
    this.#plan = plan;
    this.#audio = audio;
    store.subscribe((now, before) => {
      if (now.call !== before.call && now.call !== 'running') this.#forgetAll();
      else if (now.plan.seats !== before.plan.seats) this.#letGo();
      else if (now.echoes !== before.echoes) for (const source of now.cancelling) this.#tell(source);
    });
  }

  /** Begins with the echo as the watch knows it. */
  start(source: SourceId): void {
    if (!this.#store.getState().echoes[source] || !this.#audio()) return;
    this.#tell(source);
    this.#store.setState(({ cancelling }) => ({ cancelling: [...cancelling.filter((one) => one !== source), source] }));
  }

  stop(source: SourceId): void {
    this.#told.delete(source);
    this.#audio()?.tell({ type: 'cancel', source: this.#slot(source), echo: null });
    this.#store.setState(({ cancelling }) => ({ cancelling: cancelling.filter((one) => one !== source) }));
  }

  #tell(source: SourceId): void {
    const state = this.#store.getState();
    const echo = state.echoes[source];
    const pair = watchedPairs(state).find((one) => one.source === source);
    if (!echo || !pair || Math.abs(echo.delayMs - (this.#told.get(source) ?? Infinity)) < MOVED_MS) return;
    this.#told.set(source, echo.delayMs);
    const listener = this.#plan.compiled().listenerIds.indexOf(pair.listener);
    this.#audio()?.tell({ type: 'cancel', source: this.#slot(source), echo: { listener, delayMs: echo.delayMs, gainDb: echo.levelDb ?? USUAL_DB } });
  }

  /** Whoever left has nothing to cancel. */
  #letGo(): void {
    const state = this.#store.getState();
    const there = new Set(watchedPairs(state).map(({ source }) => source));
    for (const source of state.cancelling) if (!there.has(source)) this.stop(source);
  }

  #forgetAll(): void {
    this.#told.clear();
    if (this.#store.getState().cancelling.length > 0) this.#store.setState({ cancelling: [] });
  }

  #slot(source: SourceId): number {
    return this.#plan.compiled().sourceIds.indexOf(source);
  }
}
