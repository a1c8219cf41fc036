import type { CompiledPlan } from '@/core/hearing/compile';
import { voiceOf, type SourceId } from '@/core/hearing/ids';
import { personInWords } from '@/core/hearing/names';
import { isProcessed } from '@/core/hearing/processing';
import { listenersOf, sourcesOf, type HearingPlan } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { LeftOut } from '@/core/takes/pauses';
import type { RecordedTrack } from '../recorder/messages';
import type { TrackChoice } from '../recorder/take-recording';
import type { Tap } from '@/core/session/captures';

/** What the host chose for a take. */
export interface RecordingChoice {
  seats: readonly DeskSeat[];
  recordMixes: boolean;
  recordTalkback: boolean;
  recordProcessed: boolean;
  /** Sources whose echo is cancelled for the mixes. */
  cancelling: readonly SourceId[];
  /** By source or listener, with the reason. */
  leftOut: Readonly<Record<string, string>>;
}

type Candidate = Omit<TrackChoice, 'tap'> & { channels: 1 | 2 };

/**
 * Everything a take could hold as it is chosen: every voice in mono and every sound in stereo, straight at the engine's
 * input; talkback, voices as they go into the mixes, and the listeners' finished mixes only where they are asked for.
 */
export function trackCandidates(plan: HearingPlan, { seats, recordMixes, recordTalkback, recordProcessed, cancelling }: Omit<RecordingChoice, 'leftOut'>): Candidate[] {
  const fullName = (seat: string, otherwise: string) => personInWords({ name: seats.find(({ id }) => id === seat)?.fullName ?? otherwise, people: plan.seats.find(({ id }) => id === seat)?.people });
  const sources = sourcesOf(plan)
    .filter(({ kind }) => recordTalkback || kind !== 'talkback')
    .map((source): Candidate => ({
      kind: source.kind,
      recorded: source.id,
      name: source.kind === 'voice' || source.kind === 'talkback' ? fullName(source.seat.id, source.name) : source.name,
      channels: source.kind === 'voice' || source.kind === 'talkback' || (source.kind === 'input' && !source.input.stereo) ? 1 : 2,
    }));
  const processed = plan.seats
    .filter(({ id }) => recordProcessed && (isProcessed(plan, voiceOf(id)) || cancelling.includes(voiceOf(id))))
    .map(({ id, name }): Candidate => ({ kind: 'processed', recorded: processedOf(id), name: fullName(id, name), channels: 1 }));
  if (!recordMixes) return [...sources, ...processed];
  const listeners = listenersOf(plan).map((listener): Candidate => ({
    kind: listener.kind,
    recorded: listener.id,
    name: 'seat' in listener ? fullName(listener.seat.id, listener.name) : listener.name,
    channels: 2,
  }));
  return [...sources, ...processed, ...listeners];
}

/** A track as far as it matters while it is recorded. */
export type AgainTrack = Pick<TrackChoice, 'recorded' | 'name' | 'tap'>;

/** What a track of a voice as it goes into the mixes is called. */
const PROCESSED = 'processed:';
const processedOf = (seat: string): string => `${PROCESSED}${seat}`;

/** Where in the engine something is taken; -1 where it is not there now. */
function tapOf(compiled: CompiledPlan, recorded: string): Omit<Tap, 'channels'> {
  const slot = (ids: readonly string[], wanted: string) => ids.indexOf(wanted);
  if (recorded.startsWith(PROCESSED)) return { of: 'processed', slot: slot(compiled.sourceIds, voiceOf(recorded.slice(PROCESSED.length))) };
  const asSource = slot(compiled.sourceIds, recorded);
  return asSource >= 0 ? { of: 'source', slot: asSource } : { of: 'listener', slot: slot(compiled.listenerIds, recorded) };
}

/** The tracks of a take that is gone on with, at their places in the engine now; one whose source is gone has none, and is silent. */
export function tracksAgain(tracks: readonly RecordedTrack[], plan: HearingPlan, compiled: CompiledPlan, { seats }: Pick<RecordingChoice, 'seats'>): AgainTrack[] {
  const all = trackCandidates(plan, { seats, recordMixes: true, recordTalkback: true, recordProcessed: true, cancelling: plan.seats.map(({ id }) => voiceOf(id)) });
  return tracks.map(({ recorded, channels }) => ({
    recorded,
    name: all.find((one) => one.recorded === recorded)?.name ?? recorded,
    tap: { ...tapOf(compiled, recorded), channels },
  }));
}

/** The tracks of a take, each with its place in the engine, and what is left out. */
export function chooseTracks(plan: HearingPlan, compiled: CompiledPlan, choice: RecordingChoice): { tracks: TrackChoice[]; leftOut: LeftOut[] } {
  const candidates = trackCandidates(plan, choice);
  const reasonFor = (recorded: string): string | undefined => choice.leftOut[recorded];
  return {
    tracks: candidates
      .filter(({ recorded }) => reasonFor(recorded) === undefined)
      .map(({ channels, ...track }) => ({ ...track, tap: { ...tapOf(compiled, track.recorded), channels } })),
    leftOut: candidates.flatMap(({ recorded, name }) => {
      const reason = reasonFor(recorded);
      return reason === undefined ? [] : [{ recorded, name, reason }];
    }),
  };
}

/** What holds for a take from its beginning to its end. */
export type KeptChoice = Omit<RecordingChoice, 'seats' | 'cancelling'>;

/** The source or listener whose place in the engine a track records from. */
export const placeRecorded = (recorded: string): string => recorded.replace(/^processed:/, 'voice:');

/** What was chosen for a take that an earlier desk began, from what is on it. */
export function choiceAgain(tracks: readonly { recorded: string }[], leftOut: readonly { recorded: string; reason: string }[]): KeptChoice {
  const has = (...kinds: string[]) => tracks.some(({ recorded }) => kinds.includes(recorded.split(':')[0]));
  return {
    recordMixes: has('program', 'phones', 'return', 'feed'),
    recordTalkback: has('talkback'),
    recordProcessed: has('processed'),
    leftOut: Object.fromEntries(leftOut.map(({ recorded, reason }) => [recorded, reason])),
  };
}
