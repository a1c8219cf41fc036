import type { EarsId, ListenerId, SourceId } from './ids';

/** What makes sound go from one place to another outside the desk. */
export const COUPLING_KINDS = [
  'loudspeakers',
  'same-room',
  'share-contains',
  'far-system',
  'other-return',
  'output-into-input',
] as const;
export type CouplingKind = (typeof COUPLING_KINDS)[number];

export type CouplingFrom = ListenerId | SourceId | EarsId;
export type CouplingTo = SourceId | EarsId;

/** A way sound takes outside the desk, declared by the host or measured. */
export interface Coupling {
  id: string;
  kind: CouplingKind;
  from: CouplingFrom;
  to: CouplingTo;
  gainDb: number;
  delayMs: number;
  /** Whether the numbers come from a measurement; typical values otherwise. */
  measured: boolean;
  /** What measured them, and when (ISO 8601); absent where an earlier version did not say. */
  by?: string;
  at?: string;
}

/** Typical level and delay of each kind, until somebody measures. */
export const TYPICAL_COUPLING: Record<CouplingKind, { gainDb: number; delayMs: number }> = {
  // A laptop's loudspeakers at conversation level into its own microphone, over a line.
  loudspeakers: { gainDb: -18, delayMs: 240 },
  // Somebody else's voice in a microphone two metres away.
  'same-room': { gainDb: -20, delayMs: 8 },
  // A program's sound taken as it is.
  'share-contains': { gainDb: 0, delayMs: 40 },
  // A conference system that sends everybody everything.
  'far-system': { gainDb: -3, delayMs: 300 },
  // A line that carries another mix than its return.
  'other-return': { gainDb: 0, delayMs: 120 },
  // A cable, or a virtual one, from an output to an input.
  'output-into-input': { gainDb: 0, delayMs: 15 },
};

/** A coupling with the typical numbers of its kind. */
export function declareCoupling(kind: CouplingKind, from: CouplingFrom, to: CouplingTo): Coupling {
  return { id: `${kind}/${from}/${to}`, kind, from, to, ...TYPICAL_COUPLING[kind], measured: false };
}
