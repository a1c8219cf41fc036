/** The log keeps so many entries; whoever reads it does so several times a second. */
export const MOST_ENTRIES = 2048;
/** Kind, sample of the take, and what the kind says. */
export const ENTRY_WORDS = 6;

const KINDS = Object.freeze({ begun: 1, plan: 2, paused: 3, played: 4, ended: 5 });

/** What the audio thread writes down while a take is recorded. Samples are those of the take. */
export type LogEntry =
  /** Recording began, or went on, with this sample; `clock` is the session clock. */
  | { type: 'begun'; atSample: number; clock: number }
  /** This plan is in force from this sample on, by the number it was sent with. */
  | { type: 'plan'; atSample: number; plan: number }
  /** Recording was paused here and went on, so many samples later, at the same sample of the take. */
  | { type: 'paused'; atSample: number; lengthSamples: number }
  /** A sound was played into the mixes: its place on the board, its largest sample and the sum of squares over both sides. */
  | { type: 'played'; atSample: number; lengthSamples: number; place: number; peak: number; sumOfSquares: number }
  | { type: 'ended'; atSample: number };

/** Shared memory of the log: entry n is at n modulo {@link MOST_ENTRIES}, and `counter` says how many there are. */
interface LogMemory {
  readonly log: Float64Array;
  readonly counters: Int32Array;
}

/** Written by the audio thread alone; allocates nothing. */
export function writeEntry({ log, counters }: LogMemory, counter: number, type: LogEntry['type'], atSample: number, a = 0, b = 0, c = 0, d = 0): void {
  const at = (Atomics.load(counters, counter) % MOST_ENTRIES) * ENTRY_WORDS;
  log[at] = KINDS[type];
  log[at + 1] = atSample;
  log[at + 2] = a;
  log[at + 3] = b;
  log[at + 4] = c;
  log[at + 5] = d;
  Atomics.add(counters, counter, 1);
}

/** One reader of the log, of any number. */
export interface LogReader {
  /** Entries that came since the last reading, in order. */
  read(): LogEntry[];
  /** Entries that were written over before they were read. */
  lost(): number;
}

/** Reads what is written from now on. */
export function createLogReader({ log, counters }: LogMemory, counter: number): LogReader {
  let read = Atomics.load(counters, counter);
  let lost = 0;
  return {
    read() {
      const written = Atomics.load(counters, counter);
      const oldest = written - MOST_ENTRIES;
      if (read < oldest) {
        lost += oldest - read;
        read = oldest;
      }
      const entries: LogEntry[] = [];
      for (; read < written; read++) {
        const at = (read % MOST_ENTRIES) * ENTRY_WORDS;
        entries.push(entryOf(log.subarray(at, at + ENTRY_WORDS)));
      }
      return entries;
    },
    lost: () => lost,
  };
}

function entryOf([kind, atSample, a, b, c, d]: Float64Array): LogEntry {
  switch (kind) {
    case KINDS.begun:
      return { type: 'begun', atSample, clock: a };
    case KINDS.plan:
      return { type: 'plan', atSample, plan: a };
    case KINDS.paused:
      return { type: 'paused', atSample, lengthSamples: a };
    case KINDS.played:
      return { type: 'played', atSample, lengthSamples: a, place: b, peak: c, sumOfSquares: d };
    default:
      return { type: 'ended', atSample };
  }
}
