import type { Observation } from '@/core/hearing/observation';
import { observeHeadphones } from '../check/observe-headphones';
import type { LinesSlice, Own } from '../desk/desk-state';
import type { LineView } from './line-view';

/** Who is told of what the guests' pages measured. */
interface Observers {
  observe(newer: readonly Observation[]): void;
  forget(outdated: (observation: Observation) => boolean): void;
}

/** All lines of a desk as the screens show them, whichever kind they are. */
export class LineViews {
  readonly #store: Own<LinesSlice>;
  readonly #observers: Observers;
  #links: Record<string, LineView> = {};
  #pairs: Record<string, LineView> = {};

  constructor(store: Own<LinesSlice>, observers: Observers) {
    this.#store = store;
    this.#observers = observers;
  }

  showLinks(links: Record<string, LineView>): void {
    this.#links = links;
    this.#show();
  }

  showPairs(pairs: Record<string, LineView>): void {
    this.#pairs = pairs;
    this.#show();
  }

  #show(): void {
    const lines = { ...this.#links, ...this.#pairs };
    const { lines: shown, observations } = this.#store.getState();
    if (Object.keys(shown).length === Object.keys(lines).length && Object.entries(lines).every(([seat, view]) => view === shown[seat])) return;
    this.#store.setState({ lines });
    const { newer, outdated } = observeHeadphones(lines, observations);
    this.#observers.forget(outdated);
    if (newer.length > 0) this.#observers.observe(newer);
  }
}
