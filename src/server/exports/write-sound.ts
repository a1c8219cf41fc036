import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import { findCover } from '../shows/cover';
import type { TrackRow } from '../takes/queries';
import type { ExportJob, TakeFacts } from './export-job';
import { createFileSink } from './file-sink';
import type { SoundSource } from './sound-source';
import { writeFlac } from './write-flac';
import { writeMp3 } from './write-mp3';
import { writeOpus } from './write-opus';
import { writeWav } from './write-wav';

const RATE = 48000;

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

/** What a track says of itself. */
export function trackFacts(job: TakeFacts, rate: number, track: TrackRow): BroadcastFacts {
  const measured = job.check?.tracks.find((one) => one.track === track.id);
  const facts = broadcastFacts(job, rate, `${job.naming.show}: ${job.naming.episodeTitle}, ${track.name}, ${track.kind}`);
  return measured ? { ...facts, loudness: { integratedLufs: measured.integratedLufs, rangeLu: measured.rangeLu, truePeakDb: measured.truePeakDb, momentaryMaxLufs: measured.momentaryMaxLufs, shortTermMaxLufs: measured.shortTermMaxLufs } } : facts;
}

/** What every file of a take says of itself. */
export function broadcastFacts({ row, naming, markers }: TakeFacts, rate: number, description: string): BroadcastFacts {
  const midnight = Date.UTC(row.started_at.getUTCFullYear(), row.started_at.getUTCMonth(), row.started_at.getUTCDate());
  return {
    description,
    originator: 'Brisk Lantern',
    originatorReference: naming.take.slice(-32),
    recordedAt: row.started_at,
    timeReference: Math.round(((row.started_at.getTime() - midnight) / 1000) * rate),
    loudness: { integratedLufs: null, rangeLu: null, truePeakDb: null, momentaryMaxLufs: null, shortTermMaxLufs: null },
    codingHistory: `A=PCM,F=${rate},T=Brisk Lantern\r\n`,
    cues: markers.map(({ atSample, name }) => ({ atSample: Math.round((atSample * rate) / RATE), name })),
  };
}
