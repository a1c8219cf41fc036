import { gainToDb, powerToDb } from '@/core/dsp/decibels';
import type { ReportedPlay } from '@/core/takes/plays';
import { sendJson } from '../api';
import { LOGGED } from '../worklet/status-board';
import { createLogReader, type LogReader } from '../worklet/take-log';
import type { AudioDesk } from './audio-desk';
import type { DeskPads } from './desk-pads';

const READ_EVERY_MS = 1000;

const finite = (db: number): number | null => (Number.isFinite(db) ? Math.round(db * 100) / 100 : null);

/** What is played while a take is recorded, read from the audio thread's log and sent to the server every few moments. */
export class PlayLog {
  readonly #pads: DeskPads;
  #reader: LogReader | null = null;
  #take = '';
  #timer: ReturnType<typeof setInterval> | undefined;
  #place = 0;
  #unsent: ReportedPlay[] = [];

  constructor(pads: DeskPads) {
    this.#pads = pads;
  }

  /** @param fromSample the sample of the take from which on plays are logged */
  begin({ board }: AudioDesk, take: string, fromSample = 0): void {
    this.#take = take;
    this.#reader = createLogReader(board, LOGGED);
    // Plays before a take was gone on with keep their places.
    this.#place = Math.floor(fromSample / 48);
    this.#unsent = [];
    this.#timer = setInterval(() => void this.#report(), READ_EVERY_MS);
  }

  /** The take is over: what played at its end is in the log by now. Said again, it sends what the server did not get. */
  async end(): Promise<void> {
    clearInterval(this.#timer);
    await this.#report();
    this.#reader = null;
  }

  async #report(): Promise<void> {
    this.#readAll();
    const plays = this.#unsent.splice(0);
    if (plays.length === 0) return;
    await sendJson('POST', `/api/takes/${this.#take}/plays`, { plays }).catch(() => {
      this.#unsent = [...plays, ...this.#unsent].slice(-1000);
    });
  }

  #readAll(): void {
    for (const entry of this.#reader?.read() ?? []) {
      if (entry.type !== 'played') continue;
      const sound = this.#pads.soundAt(entry.place);
      if (!sound) continue;
      const { atSample, lengthSamples, peak, sumOfSquares } = entry;
      this.#unsent.push({
        place: this.#place++,
        sound,
        atSample: Math.round(atSample),
        lengthSamples: Math.round(lengthSamples),
        gainDb: this.#pads.gainDbOf(sound),
        peakDb: finite(gainToDb(peak)),
        rmsDb: finite(powerToDb(sumOfSquares / (2 * lengthSamples))),
      });
    }
  }
}
