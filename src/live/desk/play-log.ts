import { gainToDb, powerToDb } from '@/core/dsp/decibels';
import { takeSampleAt, type TakePause } from '@/core/takes/pauses';
import type { ReportedPlay } from '@/core/takes/plays';
import { sendJson } from '../api';
import { CLOCK, MOST_PLAYS, PLAYS, PAUSED_FRAMES, PLAY_WORDS, RECORDED_FRAMES } from '../worklet/status-board';
import type { AudioDesk } from './audio-desk';
import type { DeskPads } from './desk-pads';

const READ_EVERY_MS = 1000;

const finite = (db: number): number | null => (Number.isFinite(db) ? Math.round(db * 100) / 100 : null);

/** What is played while a take is recorded, sent to the server every few moments. */
export class PlayLog {
  readonly #pads: DeskPads;
  #audio: AudioDesk | null = null;
  #take = '';
  #pauses: () => readonly TakePause[] = () => [];
  #timer: ReturnType<typeof setInterval> | undefined;
  /** Entries of the audio thread's log that were read. */
  #read = 0;
  #place = 0;
  /** Session clock of the take's first sample; −1 while it is not known. */
  #clockAtStart = -1;
  #unsent: ReportedPlay[] = [];

  constructor(pads: DeskPads) {
    this.#pads = pads;
  }

  /**
   * @param pauses where the take was paused since
   * @param fromSample the sample of the take from which on plays are logged
   */
  begin(audio: AudioDesk, take: string, pauses: () => readonly TakePause[], fromSample = 0): void {
    this.#pauses = pauses;
    this.#audio = audio;
    this.#take = take;
    this.#read = Atomics.load(audio.board.counters, PLAYS);
    // Plays before a take was gone on with keep their places.
    this.#place = Math.floor(fromSample / 48);
    this.#clockAtStart = -1;
    this.#unsent = [];
    this.#timer = setInterval(() => void this.#report(), READ_EVERY_MS);
  }

  /** Reads what is there while the take still runs: where it began is known only then. */
  beforeEnd(): void {
    this.#readAll();
  }

  /** The take is over: what played at its end is in the log by now. */
  async end(): Promise<void> {
    clearInterval(this.#timer);
    await this.#report();
    this.#audio = null;
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
    const board = this.#audio?.board;
    if (!board) return;
    if (this.#clockAtStart < 0 && board.clocks[RECORDED_FRAMES] > 0) this.#clockAtStart = board.clocks[CLOCK] - board.clocks[RECORDED_FRAMES] - board.clocks[PAUSED_FRAMES];
    const written = Atomics.load(board.counters, PLAYS);
    // What was overwritten before it was read is lost to the log, never to the track.
    this.#read = Math.max(this.#read, written - MOST_PLAYS);
    if (this.#clockAtStart < 0) return;
    for (; this.#read < written; this.#read++) {
      const at = (this.#read % MOST_PLAYS) * PLAY_WORDS;
      const [place, startedAt, length, peak, sumOfSquares] = board.plays.subarray(at, at + PLAY_WORDS);
      const sound = this.#pads.soundAt(place);
      const inTake = (clock: number) => takeSampleAt(Math.max(0, clock - this.#clockAtStart), this.#pauses());
      const atSample = inTake(startedAt);
      const lengthSamples = Math.round(inTake(startedAt + length) - atSample);
      if (!sound || lengthSamples < 1) continue;
      this.#unsent.push({
        place: this.#place++,
        sound,
        atSample: Math.round(atSample),
        lengthSamples,
        gainDb: this.#pads.gainDbOf(sound),
        peakDb: finite(gainToDb(peak)),
        rmsDb: finite(powerToDb(sumOfSquares / (2 * length))),
      });
    }
  }
}
