/** The browser's own count of output it had nothing for (Web Audio 1.1, AudioPlaybackStats). */
interface PlaybackStats {
  underrunEvents: number;
  underrunDuration: number;
}

/** What a context's output had to go without. */
export interface PlaybackGaps {
  events: number;
  seconds: number;
}

/** Counts what a context's output has to go without from now on; the reader gives null where the browser does not count. */
export function createGapReader(context: BaseAudioContext): () => PlaybackGaps | null {
  const stats = (context as AudioContext & { playbackStats?: PlaybackStats }).playbackStats;
  const begin = { events: stats?.underrunEvents ?? 0, seconds: stats?.underrunDuration ?? 0 };
  return () => (stats ? { events: stats.underrunEvents - begin.events, seconds: stats.underrunDuration - begin.seconds } : null);
}
