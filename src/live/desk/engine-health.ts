import { createGapReader, type PlaybackGaps } from '../playback-gaps';
import { BUSY_MS, CLOCK } from '../worklet/status-board';
import { SAMPLE_RATE, type AudioDesk } from './audio-desk';

/** How the audio thread keeps up. */
export interface EngineHealth {
  /** Share of the time since the last reading that was spent mixing, 0 to 1. */
  load: number;
  /** Drop-outs since the call began, as the browser counted them; null where it does not count. */
  dropOuts: PlaybackGaps | null;
}

/** Reads the health of a desk from one reading to the next. */
export function createHealthReader(desk: AudioDesk): () => EngineHealth {
  const { clocks } = desk.board;
  const gaps = createGapReader(desk.context);
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
    return { load, dropOuts: gaps() };
  };
}
