import { BUSY_MS, CLOCK } from '../worklet/status-board';
import { SAMPLE_RATE, type AudioDesk } from './audio-desk';

/** How the audio thread keeps up. */
export interface EngineHealth {
  /** Share of the time since the last reading that was spent mixing, 0 to 1. */
  load: number;
  /** Drop-outs since the call began, as the browser counted them; null where it does not count. */
  dropOuts: { events: number; seconds: number } | null;
}

/** The browser's own count of output it had nothing for (Web Audio 1.1, AudioPlaybackStats). */
interface PlaybackStats {
  underrunEvents: number;
  underrunDuration: number;
}

/** Reads the health of a desk from one reading to the next. */
export function createHealthReader(desk: AudioDesk): () => EngineHealth {
  const { clocks } = desk.board;
  const stats = (desk.context as AudioContext & { playbackStats?: PlaybackStats }).playbackStats;
  const begin = { events: stats?.underrunEvents ?? 0, seconds: stats?.underrunDuration ?? 0 };
  let before = { clock: clocks[CLOCK], busy: clocks[BUSY_MS] };
  let load = 0;
  return () => {
    const now = { clock: clocks[CLOCK], busy: clocks[BUSY_MS] };
    const elapsedMs = (1000 * (now.clock - before.clock)) / SAMPLE_RATE;
    // The clock has whole milliseconds: a short stretch would say nothing.
    if (elapsedMs >= 2000) {
      load = (now.busy - before.busy) / elapsedMs;
      before = now;
    }
    return {
      load,
      dropOuts: stats ? { events: stats.underrunEvents - begin.events, seconds: stats.underrunDuration - begin.seconds } : null,
    };
  };
}
