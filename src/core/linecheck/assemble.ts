import type { ListenerId, SourceId } from '../hearing/ids';
import type { FarEnd } from './far-end';
import type { Leak } from './leak';
import type { LineCheck, WayBack } from './line-check';
import type { CheckSetup } from './setup';
import type { Arrivals } from './ways-back';

/** What a guest's page measured at its end. */
export interface FarReport {
  /** Of the sources, while they were probes. */
  sources: FarEnd;
  /** Of the listeners' probes: one's own should be there, and no other. */
  listeners: FarEnd;
  /** How much of what is played there the microphone hears; null for nothing. */
  leak: Leak | null;
}

/** What was heard in the inputs while the listeners were given probes. */
export type HeardInInputs = ReadonlyMap<SourceId, Arrivals>;

/** A way back this loud hides others at the same input, dB. */
const HIDES_DB = -32;
/** Somebody else's mix at an end, against one's own: quieter it is a voice of the room. */
const OTHER_MIX_DB = -25;

/** Listeners whose probes may have hidden weaker ones, and are left out of a second pass. */
export function loudListeners(setup: CheckSetup, heard: HeardInInputs): Set<ListenerId> {
  const loud = new Set<ListenerId>();
  for (const { found } of heard.values()) for (const { code, gainDb } of found) if (gainDb > HIDES_DB) loud.add(setup.listeners[code]);
  return loud;
}

export interface Assembly {
  setup: CheckSetup;
  /** By listener: dB of each source where the mix is made. */
  engineDb: readonly (readonly (number | null)[])[];
  first: HeardInInputs;
  /** With the loud ones left out. */
  second: HeardInInputs | null;
  /** By listener; absent where nobody measures, null where no answer came. */
  farEnds: ReadonlyMap<ListenerId, FarReport | null>;
  digitalSilence: ReadonlySet<SourceId>;
}

/** The measured part of a line check, put together. */
export function assembleCheck({ setup, engineDb, first, second, farEnds, digitalSilence }: Assembly): Pick<LineCheck, 'crosspoints' | 'waysBack' | 'otherMixes' | 'inputs' | 'farEnds' | 'passes'> {
  const { sources, listeners, plannedDb } = setup;
  return {
    passes: second ? 2 : 1,
    crosspoints: listeners.flatMap((listener, m) =>
      sources.map((source, n) => {
        const far = farEnds.get(listener)?.sources;
        // At an end where nothing arrives nothing can be said of single sources.
        return { source, listener, plannedDb: round(plannedDb[m][n]), engineDb: round(engineDb[m][n]), ...(far && { farDb: round(audible(far, n, plannedDb[m][n])) }) };
      }),
    ),
    waysBack: waysBack(setup, first, second),
    otherMixes: listeners.flatMap((listener, m) =>
      (farEnds.get(listener)?.listeners.measuredDb ?? []).flatMap((gainDb, k) => (k !== m && gainDb !== null && gainDb > OTHER_MIX_DB ? [{ from: listeners[k], at: listener, gainDb: round(gainDb) }] : [])),
    ),
    inputs: [...first].map(([source, { floorDb }]) => ({ source, floorDb: finite(floorDb), digitalSilence: digitalSilence.has(source) })),
    farEnds: [...farEnds].map(([listener, report]) => ({ listener, lineDb: round(report?.sources.lineDb ?? null), floorDb: finite(report?.sources.floorDb ?? null), answered: report !== null, leak: report?.leak ? { gainDb: round(report.leak.gainDb), delayMs: round(report.leak.delayMs) } : null })),
  };
}

/** A source too weak to be told from the line's own noise is as it should be as far as can be known. */
function audible({ measuredDb, floorDb }: FarEnd, source: number, plannedDb: number | null): number | null {
  const measured = measuredDb[source];
  return measured === null && plannedDb !== null && plannedDb < floorDb ? plannedDb : measured;
}

/** The first pass's ways, and those the second found besides. */
function waysBack({ listeners }: CheckSetup, first: HeardInInputs, second: HeardInInputs | null): WayBack[] {
  const ways = new Map<string, WayBack>();
  for (const [pass, heard] of [[1, first], [2, second]] as const) {
    for (const [to, { found }] of heard ?? []) {
      for (const { code, gainDb, delayMs } of found) {
        const from = listeners[code];
        if (!ways.has(`${from}/${to}`)) ways.set(`${from}/${to}`, { from, to, gainDb: round(gainDb), delayMs: round(delayMs), pass });
      }
    }
  }
  return [...ways.values()].sort((a, b) => b.gainDb - a.gainDb);
}

function round(value: number): number;
function round(value: number | null): number | null;
function round(value: number | null): number | null {
  return value === null ? null : Math.round(value * 100) / 100;
}

const finite = (value: number | null): number | null => (value === null || !Number.isFinite(value) ? null : Math.round(value * 10) / 10);
