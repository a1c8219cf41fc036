import type { VoiceReading } from '@/core/measure/voice-sound';

/** What the page tells the worker that listens to everybody: a capture of one channel each. */
export interface WatchVoices {
  ring: SharedArrayBuffer;
  sources: string[];
}

/** Said twice a second, by source. */
export type VoicesRead = Record<string, VoiceReading>;
