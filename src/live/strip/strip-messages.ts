import type { VoiceFacts } from '@/core/strip/listen-to-voice';

/** To the worker that listens to one voice: a capture of one channel. */
export interface ListenToVoice {
  ring: SharedArrayBuffer;
}

/** Said every second of sound. */
export interface VoiceHeard {
  /** Seconds listened. */
  seconds: number;
  facts: VoiceFacts;
}
