import { voiceOf } from '@/core/hearing/ids';
import type { AudioDesk } from './audio-desk';
import type { DeskState } from './desk-state';

/** Practice callers sit where the plan says they sit: on loudspeakers or with a headset. */
export function furnishRooms(audio: AudioDesk, { plan, seats }: Pick<DeskState, 'plan' | 'seats'>): void {
  for (const { id, practice, role } of seats) {
    if (!practice || role !== 'caller') continue;
    const own = plan.couplings.find(({ kind, to }) => kind === 'loudspeakers' && to === voiceOf(id));
    audio.tell({ type: 'practice-room', seat: id, couplingDb: own?.gainDb ?? null });
  }
}
