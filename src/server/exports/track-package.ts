import { createHash } from 'node:crypto';
import type pg from 'pg';
import { broadcastWavHeader } from '@/core/formats/wav/broadcast';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import { SAMPLE_RATE } from '@/core/takes/chunks';
import { stretchOf, type RangedFile } from '../http/ranged-download';
import { findTake, type TrackRow } from '../takes/queries';
import { wavDataOfTrack } from '../takes/read-track';
import { requireSealed } from '../takes/sealed';
import { takeFacts, type TakeFacts } from './export-job';
import { packed, papers, type PackedTrack } from './papers';
import { storedZip, storedZipBytes, textEntries, type ZipEntry } from './stored-zip';
import { trackFacts } from './file-facts';

/** A ZIP of all tracks with their papers, made while it is downloaded. @throws {HttpError} 404; 409 while the take is open */
export async function trackPackage(pool: pg.Pool, take: string): Promise<RangedFile> {
  const row = await findTake(pool, take);
  const facts = await takeFacts(pool, row, requireSealed(row), []);
  const headers = facts.tracks.map((track) => broadcastWavHeader({ format: track.format, channels: track.channels, sampleRate: SAMPLE_RATE }, facts.lengthSamples, trackFacts(facts, SAMPLE_RATE, track)));
  const files = facts.tracks.map((track, k) => packedTrack(facts, track, headers[k].length));
  // The papers lie behind the sound and say its checksums, which are known only then; until then others stand in their places.
  const texts = await papers(facts, SAMPLE_RATE, files);
  const found = new Map<string, string>();
  const finished = (text: string) => files.reduce((all, { sha256 }) => all.replaceAll(sha256, found.get(sha256)!), text);
  const entries: ZipEntry[] = [
    ...facts.tracks.map((track, k): ZipEntry => ({
      name: files[k].file,
      bytes: files[k].bytes,
      content: () => hashed(wavOf(facts, track, headers[k]), (sha256) => found.set(files[k].sha256, sha256)),
    })),
    ...textEntries(texts).map((entry, k): ZipEntry => ({ ...entry, content: () => [Buffer.from(finished(Object.values(texts)[k]))] })),
  ];
  const bytes = storedZipBytes(entries);
  return {
    name: `${facts.naming.take}.zip`,
    mediaType: 'application/zip',
    bytes,
    tag: headers.reduce((hash, header) => hash.update(header), createHash('sha256').update(JSON.stringify(texts))).digest('hex'),
    pieces: (from, to) => stretchOf(storedZip(entries, row.started_at), from, to),
  };
}

function packedTrack({ naming, lengthSamples }: TakeFacts, track: TrackRow, headerBytes: number): PackedTrack {
  const bytes = lengthSamples * track.channels * BYTES_PER_SAMPLE[track.format];
  const standIn = createHash('sha256').update(track.id).digest('hex');
  return packed(track, { file: `${naming.track(track)}.wav`, bytes: headerBytes + bytes + (bytes % 2), sha256: standIn });
}

async function* wavOf({ pool, lengthSamples }: TakeFacts, track: TrackRow, header: Uint8Array): AsyncGenerator<Uint8Array> {
  yield header;
  yield* wavDataOfTrack(pool, track, lengthSamples);
}

async function* hashed(pieces: AsyncIterable<Uint8Array>, found: (sha256: string) => void): AsyncGenerator<Uint8Array> {
  const hash = createHash('sha256');
  for await (const piece of pieces) {
    hash.update(piece);
    yield piece;
  }
  found(hash.digest('hex'));
}
