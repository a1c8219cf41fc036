import type { Answer, AskedAbout } from '@/core/lines/check-messages';
import type { AnswersSlice, Own } from '../desk/desk-state';
import type { DeskLines } from '../lines/desk-lines';
import type { SeatAnswers } from './check-state';

/** Asks people what they hear: on their own page, or by mouth where they have none. */
export class AskGuests {
  readonly #store: Own<AnswersSlice>;
  readonly #lines: DeskLines;
  #number = 0;

  constructor(store: Own<AnswersSlice>, lines: DeskLines) {
    this.#store = store;
    this.#lines = lines;
  }

  /** False where nobody's page is there to ask. */
  ask(seat: string): boolean {
    const asked = this.#lines.check(seat, { type: 'ask', number: ++this.#number, host: this.#host() });
    if (asked) this.#set(seat, { asked: true, says: {} });
    return asked;
  }

  /** Their page asks them kindly. */
  forHeadphones(seat: string): void {
    this.#lines.check(seat, { type: 'no-echo', host: this.#host(), cancel: false });
  }

  /** Their browser takes their microphone again and cancels the echo; their page says so. */
  cancelEcho(seat: string): void {
    this.#lines.check(seat, { type: 'no-echo', host: this.#host(), cancel: true });
  }

  #host(): string {
    return this.#store.getState().plan.seats.find(({ role }) => role === 'host')?.name ?? 'the host';
  }

  answered(seat: string, { about, yes }: Answer): void {
    this.note(seat, about, yes);
  }

  /** As somebody answered by mouth. */
  note(seat: string, about: AskedAbout, yes: boolean): void {
    const before = this.#store.getState().answers[seat] ?? { asked: false, says: {} };
    this.#set(seat, { ...before, says: { ...before.says, [about]: yes } });
  }

  #set(seat: string, answers: SeatAnswers): void {
    this.#store.setState((state) => ({ answers: { ...state.answers, [seat]: answers } }));
  }
}
