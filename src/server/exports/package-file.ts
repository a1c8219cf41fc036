import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { STORING_SHARE, type ExportJob, type MadeFile } from './export-job';
import { packed, papers, type PackedTrack } from './papers';
import { writeTrack } from './write-track';
import { storedZip, textEntries, type ZipEntry } from './stored-zip';

/** All tracks with their papers, in one ZIP. */
export async function packageFile(job: ExportJob): Promise<MadeFile> {
  const { naming, tracks, params, folder } = job;
  const files: PackedTrack[] = [];
  const paths: { path: string; name: string; bytes: number }[] = [];
  for (const [k, track] of tracks.entries()) {
    const { path, name } = await writeTrack(job, track, (share) => job.progress((0.8 * (1 - STORING_SHARE) * (k + share)) / tracks.length));
    const { size } = await stat(path);
    files.push(packed(track, { file: name, bytes: size, sha256: await sha256(path) }));
    paths.push({ path, name, bytes: size });
  }
  const name = `${naming.take}_${params.file}.zip`;
  const path = join(folder, 'package.zip');
  await pipeline(storedZip([...paths.map(fileEntry), ...textEntries(await papers(job, params.rate, files))], job.row.started_at), createWriteStream(path));
  return { path, name };
}

const fileEntry = ({ path, name, bytes }: { path: string; name: string; bytes: number }): ZipEntry => ({ name, bytes, content: () => createReadStream(path) as AsyncIterable<Buffer> });

async function sha256(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const bytes of createReadStream(path) as AsyncIterable<Buffer>) hash.update(bytes);
  return hash.digest('hex');
}
