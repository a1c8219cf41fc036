import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { STORING_SHARE, type ExportJob, type MadeFile } from './export-job';
import { packed, papers } from './papers';
import { severalAtOnce } from './several-at-once';
import { writeTrack } from './write-track';
import { storedZip, textEntries, type ZipEntry } from './stored-zip';

/** Tracks that are written side by side: coding one leaves a second processor idle, and each takes memory. */
const AT_ONCE = 2;

/** All tracks with their papers, in one ZIP. */
export async function packageFile(job: ExportJob): Promise<MadeFile> {
  const { naming, tracks, params, folder } = job;
  const shares = tracks.map(() => 0);
  const written = await severalAtOnce(AT_ONCE, tracks, async (track, k) => {
    const { path, name } = await writeTrack(job, track, (share) => {
      shares[k] = share;
      return job.progress((0.8 * (1 - STORING_SHARE) * shares.reduce((sum, one) => sum + one, 0)) / tracks.length);
    });
    const { size } = await stat(path);
    return { path, name, bytes: size, packed: packed(track, { file: name, bytes: size, sha256: await sha256(path) }) };
  });
  const name = `${naming.take}_${params.file}.zip`;
  const path = join(folder, 'package.zip');
  const files = written.map(({ packed: one }) => one);
  await pipeline(storedZip([...written.map(fileEntry), ...textEntries(await papers(job, params.rate, files))], job.row.started_at), createWriteStream(path));
  return { path, name };
}

const fileEntry = ({ path, name, bytes }: { path: string; name: string; bytes: number }): ZipEntry => ({ name, bytes, content: () => createReadStream(path) as AsyncIterable<Buffer> });

async function sha256(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const bytes of createReadStream(path) as AsyncIterable<Buffer>) hash.update(bytes);
  return hash.digest('hex');
}
