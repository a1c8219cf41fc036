import type { LostStretch } from '@/core/takes/chunker';
import type { Problem } from './answer';
import type { LineGap, RecordedTrack } from './messages';
import type { TakeMeta } from './kept-files';
import { sendUntilTaken } from './send-until-taken';

/** Gaps in one request: a take with more of them tells them in several. */
const GAPS_AT_ONCE = 1000;

/** Seals a take on the server, tried again while that is away. @throws {Error} when the server will not */
export async function sealTake(meta: TakeMeta, lengthSamples: number, losses: readonly LostStretch[], onProblem: (problem: Problem | null) => void): Promise<void> {
  const address = `/api/takes/${meta.take}`;
  const gaps = meta.tracks.filter(({ late }) => !late?.refused).flatMap((track) => gapsOf(track, losses, meta, lengthSamples));
  for (let at = 0; at + GAPS_AT_ONCE < gaps.length; ) await sendUntilTaken('POST', `${address}/log`, { gaps: gaps.slice(at, (at += GAPS_AT_ONCE)) }, onProblem);
  const last = gaps.slice(GAPS_AT_ONCE * Math.floor(Math.max(0, gaps.length - 1) / GAPS_AT_ONCE));
  const { sessionClock: clockAtStart, clockAtCall, pauses } = meta;
  await sendUntilTaken('POST', `${address}/seal`, { lengthSamples, clockAtStart, clockAtCall, pauses, gaps: last }, onProblem);
}

function gapsOf({ id, recorded, late }: RecordedTrack, losses: readonly LostStretch[], { lineGaps, leftAt }: Pick<TakeMeta, 'lineGaps' | 'leftAt'>, length: number) {
  const from = late?.fromSample ?? 0;
  return [
    // What was lost before a track began is silence there anyway.
    ...losses.filter(({ atSample }) => atSample >= from).map((loss) => ({ track: id, ...loss, cause: leftAt.includes(loss.atSample) ? 'desk-away' : 'ring-overrun' })),
    ...lineGaps.filter((gap) => gap.recorded === recorded).flatMap((gap) => withinTake(id, from, gap, length)),
  ];
}

/** A line's gap as far as its track goes. */
function withinTake(track: string, first: number, { atSample, endSample, cause }: LineGap, length: number) {
  const [from, end] = [Math.max(atSample, first), Math.min(endSample ?? length, length)];
  return end > from ? [{ track, atSample: from, lengthSamples: end - from, cause }] : [];
}
