import { join } from 'node:path';
import { createTrackReader } from '../jobs/track-reader';
import type { TrackRow } from '../takes/queries';
import { samplesOfTrack } from '../takes/read-track';
import { watched, type ExportJob } from './export-job';
import { trackSource } from './mix-source';
import { atRate } from './sound-source';
import { trackFacts } from './file-facts';
import { writeSound } from './write-sound';
import { writeStored } from './write-stored';

const RATE = 48000;

/** One track as a file of its own. */
export async function writeTrack(job: ExportJob, track: TrackRow, onProgress: (share: number) => Promise<void>): Promise<{ path: string; name: string }> {
  const name = `${job.naming.track(track)}.${job.params.file}`;
  const path = join(job.folder, name);
  const { rate, file } = job.params;
  // At its own rate a track is given away as it is stored.
  if (rate === RATE && (file === 'wav' || (file === 'flac' && track.format !== 'float32'))) {
    const sound = { channels: track.channels, format: track.format, frames: job.lengthSamples, pieces: () => samplesOfTrack(job.pool, track, job.lengthSamples) };
    await writeStored(path, sound, file, trackFacts(job, rate, track), onProgress);
    return { path, name };
  }
  const source = watched(atRate(trackSource(createTrackReader(job.pool, track, job.lengthSamples), job.lengthSamples), rate), onProgress);
  await writeSound(job, path, source, track.format, track.name, trackFacts(job, rate, track));
  return { path, name };
}
