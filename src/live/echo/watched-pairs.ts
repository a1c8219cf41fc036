import { phonesOf, returnOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import type { DeskState } from '../desk/desk-state';

/** A voice, and what its owner is sent. */
export interface VoicePair {
  source: SourceId;
  listener: ListenerId;
}

/** Everybody whose echo is listened for: a practice caller's room is made up, and the plan says what it is. */
export function watchedPairs({ plan, seats }: Pick<DeskState, 'plan' | 'seats'>): VoicePair[] {
  const real = plan.seats.filter(({ id, role }) => role !== 'producer' && (role === 'host' || seats.some((one) => one.id === id && one.line !== 'practice')));
  return real.map(({ id, role }) => ({ source: voiceOf(id), listener: role === 'host' ? phonesOf(id) : returnOf(id) }));
}
