import type { CompiledPlan } from '@/core/hearing/compile';
import { listenersOf, sourcesOf, type HearingPlan } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { TrackChoice } from '../recorder/take-recording';

/**
 * The tracks of a take: every voice in mono and every sound player in stereo, straight at the
 * engine's input; with `mixes`, every listener's mix as well. Talkback is private: no track.
 */
export function chooseTracks(
  plan: HearingPlan,
  compiled: CompiledPlan,
  seats: readonly DeskSeat[],
  mixes: boolean,
): TrackChoice[] {
  const fullName = (seat: string, otherwise: string) => seats.find(({ id }) => id === seat)?.fullName ?? otherwise;
  const sources = sourcesOf(plan)
    .filter(({ kind }) => kind !== 'talkback')
    .map((source): TrackChoice => ({
    kind: source.kind,
    recorded: source.id,
    name: source.kind === 'voice' ? fullName(source.seat.id, source.name) : source.name,
    tap: { of: 'source', slot: compiled.sourceIds.indexOf(source.id), channels: source.kind === 'voice' ? 1 : 2 },
  }));
  if (!mixes) return sources;
  const listeners = listenersOf(plan).map((listener): TrackChoice => ({
    kind: listener.kind,
    recorded: listener.id,
    name: 'seat' in listener ? fullName(listener.seat.id, listener.name) : listener.name,
    tap: { of: 'listener', slot: compiled.listenerIds.indexOf(listener.id), channels: 2 },
  }));
  return [...sources, ...listeners];
}
