import type { SourceId } from '@/core/hearing/ids';
import { COMPARED_LOUDNESS } from '../worklet/status-board';
import type { StripDesk } from './strip-desk';

/** The gain follows what was measured so often, ms. */
const FOLLOW_MS = 500;
/** Smaller differences are not heard. */
const CLOSE_DB = 0.5;
const MOST_DB = 24;

/** One voice in the host's phones alone, with and without its strip, at the same loudness as far as it was measured. */
export class StripComparison {
  readonly #desk: StripDesk;
  #following: ReturnType<typeof setInterval> | undefined;
  #source: SourceId | null = null;

  constructor(desk: StripDesk) {
    this.#desk = desk;
    desk.store.subscribe(({ call }, before) => {
      if (call !== before.call && call !== 'running') this.end();
    });
  }

  /** Measures the voice behind its strip from now on, so that it is known when it is compared. */
  begin(source: SourceId): void {
    const audio = this.#desk.audio();
    const slot = this.#slotOf(source);
    if (!audio || slot < 0) return;
    this.#source = source;
    audio.tell({ type: 'compare', source: slot });
    clearInterval(this.#following);
    this.#following = setInterval(() => this.#follow(), FOLLOW_MS);
  }

  hear(withStrip: boolean): void {
    const source = this.#source;
    if (source) this.#desk.hands.listenTo(withStrip ? { source } : { source, asItComes: { gainDb: this.#difference() } });
  }

  /** Hears the host's own mix again. */
  stop(): void {
    if (this.#listening()) this.#desk.hands.listenTo(null);
  }

  end(): void {
    this.stop();
    clearInterval(this.#following);
    if (this.#source) this.#desk.audio()?.tell({ type: 'compare', source: -1 });
    this.#source = null;
  }

  #listening() {
    const { listenTo } = this.#desk.store.getState().onAir;
    return listenTo !== null && 'source' in listenTo && listenTo.source === this.#source ? listenTo : null;
  }

  #follow(): void {
    const listening = this.#listening();
    const gainDb = this.#difference();
    if (!listening?.asItComes || gainDb === null) return;
    const before = listening.asItComes.gainDb;
    if (before === null || Math.abs(gainDb - before) > CLOSE_DB) this.#desk.hands.adjustListening({ source: listening.source, asItComes: { gainDb } });
  }

  /** By how much the strip makes the voice louder, dB; null while that is not known. */
  #difference(): number | null {
    const board = this.#desk.audio()?.board;
    if (!board || !this.#source) return null;
    const difference = board.clocks[COMPARED_LOUDNESS] - board.sourceLoudness[this.#slotOf(this.#source)];
    return Number.isFinite(difference) ? Math.max(-MOST_DB, Math.min(MOST_DB, difference)) : null;
  }

  #slotOf(source: SourceId): number {
    return this.#desk.plan.compiled().sourceIds.indexOf(source);
  }
}
