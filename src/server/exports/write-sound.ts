import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import { findCover } from '../shows/cover';
import type { TrackRow } from '../takes/queries';
import type { ExportJob } from './export-job';
import { createFileSink } from './file-sink';
import type { SoundSource } from './sound-source';
import { writeFlac } from './write-flac';
import { writeMp3 } from './write-mp3';
import { writeOpus } from './write-opus';
import { writeWav } from './write-wav';

/** Writes a sound in the format that was asked for, with what that format says of it. */
export async function writeSound(job: ExportJob, path: string, source: SoundSource, format: TrackRow['format'], title: string, facts: BroadcastFacts): Promise<void> {
  const sink = await createFileSink(path);
  const { naming, markers, lengthSamples } = job;
  try {
    switch (job.params.file) {
      case 'wav':
        await writeWav(sink, source, format, facts);
        break;
      case 'flac':
        await writeFlac(sink, source, format === 'pcm16' ? 16 : 24);
        break;
      case 'mp3':
        await writeMp3(sink, source, {
          title: naming.episodeTitle,
          artist: title,
          album: naming.show,
          year: String(job.row.started_at.getUTCFullYear()),
          chapters: markers.map(({ name, atSample }, k) => ({ title: name, startMs: Math.round(atSample / 48), endMs: Math.round((markers[k + 1]?.atSample ?? lengthSamples) / 48) })),
          cover: await findCover(job.pool, naming.showId),
        });
        break;
      case 'opus':
        await writeOpus(sink, source, { title: naming.episodeTitle, artist: title });
        break;
    }
  } finally {
    await sink.close();
  }
}
