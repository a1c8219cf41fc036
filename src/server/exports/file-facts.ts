import type { BroadcastFacts } from '@/core/formats/wav/broadcast';
import type { TrackRow } from '../takes/queries';
import type { TakeFacts } from './export-job';

const RATE = 48000;

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
