import { asOpenTimeline } from '@/core/formats/timeline';
import { markersAsChapters } from '@/core/takes/chapters';
import { neverInCall } from '@/core/takes/presence';
import { markersAsVtt } from '@/core/takes/markers';
import { showNotes } from '@/core/takes/show-notes';
import { PACKAGE_FORM } from '@/core/takes/take-package';
import { whoSpeaksVtt } from '@/core/takes/who-speaks';
import { titlesBetween } from '../air/broadcasts';
import { titlesAsCsv } from '../air/titles-table';
import { lineCheckOfTake } from '../checks/line-checks';
import { takeConsents } from '../seats/queries';
import { markersAsCsv } from '../takes/markers';
import { listPlays } from '../takes/plays';
import { listPlugs } from '../takes/plugs';
import { listGaps, type TrackRow } from '../takes/queries';
import { takeLog } from '../takes/take-log';
import type { TakeFacts } from './export-job';

const RATE = 48000;

/** A track's file in a package, as the manifest lists it. */
export interface PackedTrack {
  file: string;
  track: string;
  person: string;
  kind: string;
  /** What of the plan it holds. */
  recorded: string;
  channels: number;
  format: string;
  fromSample: number;
  derivedFrom: string | null;
  made: unknown;
  bytes: number;
  sha256: string;
}

export const packed = (track: TrackRow, { file, bytes, sha256 }: { file: string; bytes: number; sha256: string }): PackedTrack => ({
  file,
  track: track.id,
  person: track.name,
  kind: track.kind,
  recorded: track.recorded,
  channels: track.channels,
  format: track.format,
  fromSample: track.from_sample,
  derivedFrom: track.derived_from,
  made: track.made,
  bytes,
  sha256,
});

/** What lies beside the sound: what it is, who and when, what was measured, what was marked. */
export async function papers(facts: TakeFacts, rate: number, files: readonly PackedTrack[]): Promise<Record<string, string>> {
  const { pool, row, naming, markers, lengthSamples, check, tracks } = facts;
  const rated = (samples: number) => Math.round((samples * rate) / RATE);
  const { begin, changes } = await takeLog(pool, row.id);
  const plays = await listPlays(pool, row.id);
  const gaps = await listGaps(pool, row.id);
  const away = neverInCall(gaps, lengthSamples);
  const voices = tracks.filter(({ id, kind }) => kind === 'voice' && !away.has(id));
  const onAir = await titlesBetween(pool, row.episode_id, row.started_at, new Date(row.started_at.getTime() + lengthSamples / 48));
  const manifest = {
    madeBy: 'Brisk Lantern',
    form: PACKAGE_FORM,
    show: naming.show,
    episode: naming.episodeTitle,
    take: row.number,
    name: row.name,
    note: row.note,
    startedAt: row.started_at.toISOString(),
    sampleRate: rate,
    lengthSamples: rated(lengthSamples),
    files,
    people: (await takeConsents(pool, row.id)).map(({ seat, name, wording, agreedAt }) => ({ seat, name, consent: wording, agreedAt: agreedAt.toISOString() })),
    lines: begin.plan.seats.flatMap(({ name, people }) => (people ? [{ name, people }] : [])),
    gaps: gaps.map((gap) => ({ ...gap, file: files.find(({ track }) => track === gap.track)?.file ?? null })),
    plays,
    markers,
    plan: begin.plan,
    hands: begin.hands,
    planChanges: changes,
    pauses: row.pauses,
    notRecorded: row.not_recorded,
    devices: await listPlugs(pool, row.id),
    check,
    lineCheck: await lineCheckOfTake(pool, row.id),
  };
  const timeline = asOpenTimeline(
    naming.take,
    rate,
    files.map(({ file, track }) => ({ name: tracks.find(({ id }) => id === track)?.name ?? file, file, lengthSamples: rated(lengthSamples) })),
    markers.map((marker) => ({ name: marker.name, atSample: rated(marker.atSample), lengthSamples: rated(marker.lengthSamples) })),
  );
  return {
    'manifest.json': JSON.stringify(manifest, null, 2),
    [`${naming.take}.otio`]: JSON.stringify(timeline, null, 2),
    'markers.csv': markersAsCsv(markers),
    'markers.vtt': markersAsVtt(markers),
    'chapters.json': JSON.stringify(markersAsChapters(markers, naming.episodeTitle), null, 2),
    // Who speaks was measured by the checks, by the take's own samples.
    ...(check && { 'who-speaks.vtt': whoSpeaksVtt(voices.map(({ id, name }) => ({ name, speech: check.tracks.find(({ track }) => track === id)?.speech ?? [] }))) }),
    ...(onAir.length > 0 && { 'titles-on-the-air.csv': titlesAsCsv(onAir, row.started_at.toISOString()) }),
    'show-notes.md': showNotes({ show: naming.show, episode: naming.episodeTitle, people: [...new Set(voices.map(({ name }) => name))], markers, sounds: plays.map(({ name }) => name) }),
    'checksums.sha256': files.map((one) => `${one.sha256}  ${one.file}\n`).join(''),
  };
}
