import type { SourceId } from '@/core/hearing/ids';
import type { StripProposal } from '@/core/strip/set-for-voice';

/** A voice that is listened to, and what came of it. */
export interface StripListening {
  source: SourceId;
  /** `too-little`: it was given up, hardly anything was said. */
  phase: 'listening' | 'set' | 'too-little';
  /** Seconds in which somebody spoke so far. */
  spokenSeconds: number;
  reasons: StripProposal['reasons'];
}

/** Noise suppression at this desk. */
export interface NoiseState {
  state: 'off' | 'loading' | 'on' | 'failed';
  /** How many voices this machine does it for in time, measured; null while that is not known. */
  mostVoices: number | null;
}

export const NO_NOISE: NoiseState = { state: 'off', mostVoices: null };
