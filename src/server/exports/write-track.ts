import { join } from 'node:path';
import { createTrackReader } from '../jobs/track-reader';
import type { TrackRow } from '../takes/queries';
import { watched, type ExportJob } from './export-job';
import { trackSource } from './mix-source';
import { atRate } from './sound-source';
import { trackFacts } from './file-facts';
import { writeSound } from './write-sound';

/** One track as a file of its own. */
export async function writeTrack(job: ExportJob, track: TrackRow, onProgress: (share: number) => Promise<void>): Promise<{ path: string; name: string }> {
  const name = `${job.naming.track(track)}.${job.params.file}`;
  const path = join(job.folder, name);
  const source = watched(atRate(trackSource(createTrackReader(job.pool, track, job.lengthSamples), job.lengthSamples), job.params.rate), onProgress);
  await writeSound(job, path, source, track.format, track.name, trackFacts(job, job.params.rate, track));
  return { path, name };
}
