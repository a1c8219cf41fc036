import type { LostStretch } from '@/core/takes/chunker';
import type { LineGap, RecordedTrack } from './messages';
import { ANSWER_WITHIN_MS } from '../api';
import { pause } from '../pause';
import type { TakeMeta } from './kept-files';

const LONGEST_PAUSE_MS = 8000;

/** Seals a take on the server, tried again while that is away. @throws {Error} when the server will not */
export async function sealTake(meta: TakeMeta, lengthSamples: number, losses: readonly LostStretch[]): Promise<void> {
  const body = {
    lengthSamples,
    clockAtStart: meta.clockAtStart,
    clockAtCall: meta.clockAtCall,
    planChanges: meta.planChanges,
    pauses: meta.pauses,
    gaps: meta.tracks.flatMap((track) => gapsOf(track, losses, meta, lengthSamples)),
  };
  for (let tries = 0; ; tries++) {
    const response = await fetch(`/api/takes/${meta.take}/seal`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(ANSWER_WITHIN_MS * 2 ** Math.min(tries, 4)),
    }).catch(() => null);
    if (response?.ok) return;
    if (response && response.status < 500) {
      const { message } = (await response.json()) as { message: string };
      throw new Error(message);
    }
    await pause(Math.min(LONGEST_PAUSE_MS, 500 * 2 ** tries));
  }
}

function gapsOf({ id, recorded }: RecordedTrack, losses: readonly LostStretch[], { lineGaps, leftAt }: Pick<TakeMeta, 'lineGaps' | 'leftAt'>, length: number) {
  return [
    ...losses.map((loss) => ({ track: id, ...loss, cause: leftAt.includes(loss.atSample) ? 'desk-away' : 'ring-overrun' })),
    ...lineGaps.filter((gap) => gap.recorded === recorded).flatMap((gap) => withinTake(id, gap, length)),
  ];
}

/** A line's gap as far as the take goes. */
function withinTake(track: string, { atSample, endSample, cause }: LineGap, length: number) {
  const end = Math.min(endSample ?? length, length);
  return end > atSample ? [{ track, atSample, lengthSamples: end - atSample, cause }] : [];
}
