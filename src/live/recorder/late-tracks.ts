import type { Problem } from './answer';
import type { RecordedTrack } from './messages';
import { sendUntilTaken } from './send-until-taken';

/** Tells the server of tracks that were added while the take ran, until it has heard. @throws {Error} when it will not have them */
export async function announceTracks(take: string, tracks: readonly RecordedTrack[], onProblem: (problem: Problem | null) => void): Promise<void> {
  const late = tracks.flatMap(({ id, recorded, channels, format, late: more }) => (more ? [{ id, recorded, channels, format, kind: more.kind, name: more.name, fromSample: more.fromSample ?? 0 }] : []));
  if (late.length > 0) await sendUntilTaken('POST', `/api/takes/${take}/tracks`, { tracks: late }, onProblem);
}
