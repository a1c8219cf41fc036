import type { CompiledPlan } from '@/core/hearing/compile';
import { listenersOf, sourcesOf, type HearingPlan } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { LeftOut } from '@/core/takes/pauses';
import type { TrackChoice } from '../recorder/take-recording';
import type { Tap } from '../worklet/messages';

/** What the host chose for a take. */
export interface RecordingChoice {
  seats: readonly DeskSeat[];
  recordMixes: boolean;
  recordTalkback: boolean;
  /** By source or listener, with the reason. */
  leftOut: Readonly<Record<string, string>>;
}

type Candidate = Omit<TrackChoice, 'tap'> & { of: Tap['of']; channels: 1 | 2 };

/**
 * Everything a take could hold as it is chosen: every voice in mono and every sound in stereo, straight at the engine's
 * input; talkback and the listeners' finished mixes only where they are asked for.
 */
export function trackCandidates(plan: HearingPlan, { seats, recordMixes, recordTalkback }: Omit<RecordingChoice, 'leftOut'>): Candidate[] {
  const fullName = (seat: string, otherwise: string) => seats.find(({ id }) => id === seat)?.fullName ?? otherwise;
  const sources = sourcesOf(plan)
    .filter(({ kind }) => recordTalkback || kind !== 'talkback')
    .map((source): Candidate => ({
      kind: source.kind,
      recorded: source.id,
      name: source.kind === 'voice' || source.kind === 'talkback' ? fullName(source.seat.id, source.name) : source.name,
      of: 'source',
      channels: source.kind === 'voice' || source.kind === 'talkback' ? 1 : 2,
    }));
  if (!recordMixes) return sources;
  const listeners = listenersOf(plan).map((listener): Candidate => ({
    kind: listener.kind,
    recorded: listener.id,
    name: 'seat' in listener ? fullName(listener.seat.id, listener.name) : listener.name,
    of: 'listener',
    channels: 2,
  }));
  return [...sources, ...listeners];
}

/** The tracks of a take, each with its place in the engine, and what is left out. */
export function chooseTracks(plan: HearingPlan, compiled: CompiledPlan, choice: RecordingChoice): { tracks: TrackChoice[]; leftOut: LeftOut[] } {
  const candidates = trackCandidates(plan, choice);
  const reasonFor = (recorded: string): string | undefined => choice.leftOut[recorded];
  return {
    tracks: candidates
      .filter(({ recorded }) => reasonFor(recorded) === undefined)
      .map(({ of, channels, ...track }) => ({ ...track, tap: { of, slot: of === 'source' ? compiled.sourceIds.findIndex((id) => id === track.recorded) : compiled.listenerIds.findIndex((id) => id === track.recorded), channels } })),
    leftOut: candidates.flatMap(({ recorded, name }) => {
      const reason = reasonFor(recorded);
      return reason === undefined ? [] : [{ recorded, name, reason }];
    }),
  };
}
