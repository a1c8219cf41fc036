import { phonesOf, returnOf, voiceOf, type ListenerId, type SourceId } from '@/core/hearing/ids';
import type { DeskState } from '../desk/desk-state';

/** A voice, and what its owner is sent. */
export interface VoicePair {
  source: SourceId;
  listener: ListenerId;
}

/** Everybody whose echo is listened for: whoever is sent something and has a voice in the call. */
export function watchedPairs({ plan }: Pick<DeskState, 'plan'>): VoicePair[] {
  const talkers = plan.seats.filter(({ role }) => role !== 'producer');
  return talkers.map(({ id, role }) => ({ source: voiceOf(id), listener: role === 'host' ? phonesOf(id) : returnOf(id) }));
}
