import { nameInId, returnOf, type ListenerId } from '@/core/hearing/ids';
import type { CheckReport } from '@/core/lines/check-messages';
import type { FarReport } from '@/core/linecheck/assemble';
import type { StageName } from '@/core/linecheck/schedule';
import type { CheckSetup } from '@/core/linecheck/setup';
import type { DeskLines } from '../lines/desk-lines';

/** A guest's page judges what it heard within this time, on a slow machine as well, or says nothing. */
const REPORT_MS = 25_000;

/** The guests' pages in a line check: told what is sent, and asked what arrived. */
export class CheckGuests {
  readonly #lines: Pick<DeskLines, 'check'>;
  #number = 0;
  /** What each page that takes part has said; null for not yet. */
  #said = new Map<ListenerId, FarReport | null>();
  #allSaid: (() => void) | null = null;

  constructor(lines: Pick<DeskLines, 'check'>) {
    this.#lines = lines;
  }

  /** What arrived at each far end; null where nothing was said. */
  get said(): ReadonlyMap<ListenerId, FarReport | null> {
    return this.#said;
  }

  /** Tells the pages what will be sent, and notes which of them take part. @param inMs until it begins */
  invite({ sources, listeners, plannedDb, seed, sourcesDb }: CheckSetup, inMs: number, seconds: number): void {
    this.forget();
    this.#number++;
    listeners.forEach((listener, own) => {
      if (!listener.startsWith('return:')) return;
      const check = { type: 'check', number: this.#number, inMs, seconds, seed, sourcesDb, plannedDb: sources.map((_, k) => plannedDb[own][k]), listeners: listeners.length, own } as const;
      if (this.#lines.check(nameInId(listener), check)) this.#said.set(listener, null);
    });
  }

  /** Nobody takes part. */
  forget(): void {
    this.#said = new Map();
    this.#allSaid = null;
  }

  begins(stage: StageName): void {
    for (const listener of this.#said.keys()) this.#lines.check(nameInId(listener), { type: 'check-stage', number: this.#number, stage });
  }

  /** Nothing more is sent. */
  over(brokenOff: boolean): void {
    for (const listener of this.#said.keys()) this.#lines.check(nameInId(listener), { type: 'check-over', number: this.#number, brokenOff });
  }

  /** A page says what arrived there. */
  take(seat: string, report: CheckReport): void {
    const listener = returnOf(seat);
    if (report.number !== this.#number || !this.#said.has(listener)) return;
    const far = ({ measuredDb, lineDb, floorDb }: CheckReport['sources']) => ({ measuredDb, lineDb, floorDb: floorDb ?? Infinity });
    this.#said.set(listener, { sources: far(report.sources), listeners: far(report.listeners), leak: report.leak });
    if (this.#haveAllSaid()) this.#allSaid?.();
  }

  /** Waits for what the pages say, though not for ever. */
  async reports(): Promise<void> {
    const all = new Promise<void>((resolve) => (this.#allSaid = resolve));
    this.over(false);
    if (this.#haveAllSaid()) return;
    await Promise.race([all, new Promise((resolve) => setTimeout(resolve, REPORT_MS))]);
  }

  #haveAllSaid(): boolean {
    return [...this.#said.values()].every((one) => one !== null);
  }
}
