import type { ListenerId, SourceId, TalkbackId } from './ids';
import type { Listener } from './plan';

/** Which mixes a cough keeps a voice out of. */
export interface Cough {
  callers: boolean;
  program: boolean;
}

/**
 * What the host's hands do on air, over the plan and without changing it. All of it is gone when
 * the desk is reloaded: nothing held down can stick.
 */
export interface OnAir {
  /** Voices kept out for the moment. Their tracks go on. */
  cough: Partial<Record<SourceId, Cough>>;
  /** Who talks privately, and into which returns or phones. */
  talk: { from: TalkbackId; to: ListenerId[] } | null;
  /** Others on the host's side who talk privately: a producer on a line. */
  sideTalk: { from: TalkbackId; to: ListenerId[] }[];
  /** How far everything else in those mixes is turned down meanwhile, dB below. */
  talkDimDb: number;
  /** Kept out of every mix whatever the plan says: a share that contains the call, or is being checked. */
  held: SourceId[];
  /** Heard in the phones in place of the host's own mix: one source before its fader, or a whole mix. */
  listenTo: ListenTo | null;
  phonesDim: boolean;
  /** How far the phones are turned down while dimmed, dB below. */
  phonesDimDb: number;
}

/** A source that is compared may be heard as it comes in, at a gain that makes it as loud as its strip does, dB; null while that is not measured. */
export type ListenTo = { source: SourceId; asItComes?: { gainDb: number | null } } | { listener: ListenerId };

export const NOTHING_ON_AIR: OnAir = {
  cough: {},
  talk: null,
  sideTalk: [],
  talkDimDb: 12,
  held: [],
  listenTo: null,
  phonesDim: false,
  phonesDimDb: 20,
};

/** Whether a cough keeps a source out of this kind of mix. */
export function coughsInto(onAir: OnAir, source: SourceId, listener: Listener): boolean {
  const cough = onAir.cough[source];
  if (!cough) return false;
  if (listener.kind === 'return') return cough.callers;
  return (listener.kind === 'program' || listener.kind === 'feed') && cough.program;
}

/** Who talks privately into this listener. Nobody ever does into the program or a feed. */
export function talksInto(onAir: OnAir, listener: Pick<Listener, 'id' | 'kind'>): TalkbackId[] {
  if (listener.kind !== 'return' && listener.kind !== 'phones') return [];
  const talks = onAir.talk ? [onAir.talk, ...onAir.sideTalk] : onAir.sideTalk;
  return talks.filter(({ to }) => to.includes(listener.id)).map(({ from }) => from);
}
