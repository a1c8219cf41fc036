import type { VoiceReading } from './voice-sound';

/** Where speech should be before anything is done to it, LUFS. */
export const SPEECH_TARGET = { from: -28, to: -17 } as const;
const TOO_QUIET_LUFS = -33;
const HOT_PEAK_DB = -3;
/** A room that is heard under speech, and one that is heard all the time, dBFS. */
const ROOM_HEARD_DB = -58;
const ROOM_LOUD_DB = -48;

export type Tone = 'good' | 'attention' | 'bad' | 'unknown';

export interface Judged {
  words: string;
  tone: Tone;
  /** What to do about it; null where nothing is. */
  advice: string | null;
}

/** How loud somebody speaks, in a word. */
export function judgeSpeech({ speechLufs, peakAgainDb, clippedRuns }: VoiceReading): Judged {
  if (clippedRuns > 0) return { words: 'distorts', tone: 'bad', advice: 'turn the microphone down' };
  if (speechLufs === null) return { words: 'not heard yet', tone: 'unknown', advice: 'say something' };
  if (peakAgainDb !== null && peakAgainDb > HOT_PEAK_DB) return { words: 'too hot', tone: 'bad', advice: 'turn the microphone down' };
  if (speechLufs > SPEECH_TARGET.to) return { words: 'a little hot', tone: 'attention', advice: 'a hand’s width further away' };
  if (speechLufs < TOO_QUIET_LUFS) return { words: 'too quiet', tone: 'bad', advice: 'come closer, or turn the microphone up' };
  if (speechLufs < SPEECH_TARGET.from) return { words: 'a little quiet', tone: 'attention', advice: 'come a little closer' };
  return { words: 'good', tone: 'good', advice: null };
}

/** What else is in the microphone. */
export function judgeRoom({ noiseDb, hum, peakDb, silentPauses }: VoiceReading): Judged {
  if (hum) return { words: `hum at ${hum.hz} Hz`, tone: 'attention', advice: 'another cable or socket' };
  if (noiseDb === null && silentPauses && peakDb !== null) return { words: 'silent', tone: 'good', advice: null };
  if (noiseDb === null) return { words: 'no pause yet', tone: 'unknown', advice: null };
  if (noiseDb > ROOM_LOUD_DB) return { words: 'loud room', tone: 'bad', advice: 'windows shut, fan off' };
  if (noiseDb > ROOM_HEARD_DB) return { words: 'heard a little', tone: 'attention', advice: null };
  return { words: 'quiet', tone: 'good', advice: null };
}
