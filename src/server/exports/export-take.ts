import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ExportParams } from '@/core/tasks/task';
import { RefusedTask } from '../jobs/refused';
import type { Work } from '../jobs/work';
import { findTake } from '../takes/queries';
import { STORING_SHARE, takeFacts, type ExportJob, type ExportResult, type MadeFile } from './export-job';
import { mixFile } from './mix-file';
import { packageFile } from './package-file';
import { storeFile } from './store-file';
import { writeTrack } from './write-track';

const MEDIA_TYPES = { wav: 'audio/wav', flac: 'audio/flac', mp3: 'audio/mpeg', opus: 'audio/ogg', zip: 'application/zip' };

/** Makes the file a host asked for and keeps it for downloading. */
export async function exportTake(work: Work, params: ExportParams): Promise<ExportResult> {
  const { pool, take: id } = work;
  const row = await findTake(pool, id);
  if (row.length_samples === null) throw new RefusedTask('This take is still open. Stop it first.');
  const folder = await mkdtemp(join(tmpdir(), 'brisk-lantern-'));
  try {
    const job: ExportJob = {
      ...work,
      ...(await takeFacts(pool, row, row.length_samples, params.tracks)),
      params,
      folder,
    };
    const { path, name, measured } = await make(job);
    const mediaType = MEDIA_TYPES[params.what === 'tracks' ? 'zip' : params.file];
    const bytes = await storeFile(pool, work.task, path, name, mediaType, (share) => work.progress(1 - STORING_SHARE + STORING_SHARE * share));
    return { name, bytes, ...(measured ? { measured } : {}) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function make(job: ExportJob): Promise<MadeFile> {
  switch (job.params.what) {
    case 'mix':
      return mixFile(job);
    case 'tracks':
      return packageFile(job);
    case 'track': {
      const [track] = job.tracks;
      if (!track) throw new RefusedTask('This track is gone.');
      return writeTrack(job, track, (share) => job.progress((1 - STORING_SHARE) * share));
    }
  }
}
