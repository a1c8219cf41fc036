import type { SourceId } from '@/core/hearing/ids';
import { COMPARED_LOUDNESS } from '../worklet/status-board';
import type { StripDesk } from './strip-desk';

/** The gain follows what was measured so often, ms. */
const FOLLOW_MS = 500;
/** Smaller differences are not heard. */
const CLOSE_DB = 0.5;
const MOST_DB = 24;

/** One voice in the host's phones alone, with and without its strip, at the same loudness. */
export class StripComparison {
  readonly #desk: StripDesk;
  #following: ReturnType<typeof setInterval> | undefined;
  #slot = -1;

  constructor(desk: StripDesk) {
    this.#desk = desk;
    // Whatever else is listened to ends the comparison.
    desk.store.subscribe(({ onAir, call }, before) => {
      if (onAir.listenTo !== before.onAir.listenTo && onAir.listenTo === null) this.#forget();
      if (call !== before.call && call !== 'running') this.#forget();
    });
  }

  hear(source: SourceId, withStrip: boolean): void {
    const audio = this.#desk.audio();
    const slot = this.#desk.plan.compiled().sourceIds.indexOf(source);
    if (!audio || slot < 0) return;
    if (this.#slot !== slot) audio.tell({ type: 'compare', source: slot });
    this.#slot = slot;
    clearInterval(this.#following);
    if (withStrip) return this.#desk.hands.listenTo({ source });
    this.#desk.hands.listenTo({ source, asItComes: { gainDb: this.#difference() ?? 0 } });
    this.#following = setInterval(() => this.#follow(source), FOLLOW_MS);
  }

  stop(): void {
    if (this.#slot >= 0) this.#desk.hands.listenTo(null);
  }

  #follow(source: SourceId): void {
    const { listenTo } = this.#desk.store.getState().onAir;
    if (listenTo === null || !('source' in listenTo) || listenTo.source !== source || !listenTo.asItComes) return clearInterval(this.#following);
    const gainDb = this.#difference();
    if (gainDb !== null && Math.abs(gainDb - listenTo.asItComes.gainDb) > CLOSE_DB) this.#desk.hands.adjustListening({ source, asItComes: { gainDb } });
  }

  /** By how much the strip makes the voice louder, dB; null while that is not known. */
  #difference(): number | null {
    const board = this.#desk.audio()?.board;
    if (!board) return null;
    const [behind, before] = [board.clocks[COMPARED_LOUDNESS], board.sourceLoudness[this.#slot]];
    const difference = behind - before;
    return Number.isFinite(difference) ? Math.max(-MOST_DB, Math.min(MOST_DB, difference)) : null;
  }

  #forget(): void {
    clearInterval(this.#following);
    if (this.#slot >= 0) this.#desk.audio()?.tell({ type: 'compare', source: -1 });
    this.#slot = -1;
  }
}
