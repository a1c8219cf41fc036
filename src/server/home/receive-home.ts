import { createHash } from 'node:crypto';
import type pg from 'pg';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import type { LostStretch } from '@/core/takes/chunker';
import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import type { Guest } from '../access/invitations';
import { newToken } from '../access/tokens';
import { HttpError } from '../http/errors';
import { askFor } from '../jobs/queue';
import { takeConsents } from '../seats/queries';
import { findTake } from '../takes/queries';
import { arrived, insertHome, keepHomeChunk, markHomeComplete, noteKept, tracksWithHome, type HomeRow } from './queries';

/** What is recorded at home is kept as editors expect it. */
const FORMAT = 'pcm24';

export interface BegunHome {
  home: string;
  /** Known to this browser only; lets it send until all is here, also after its link has ended. */
  key: string;
}

/** Begins a guest's own recording beside their line track. @throws {HttpError} 409 when their line is not being recorded, or they did not agree */
export async function beginHome(pool: pg.Pool, { episode, seat }: Guest, take: string): Promise<BegunHome> {
  const { token, hash } = newToken();
  const agreed = (await takeConsents(pool, take)).some((consent) => consent.seat === seat);
  const home = agreed ? await insertHome(pool, take, episode, seat, FORMAT, hash) : null;
  if (!home) throw new HttpError(409, 'not-recorded', 'Your line is not on a take that is being recorded, so nothing is recorded at your end either.');
  return { home, key: token };
}

/** Takes one chunk, at most once and in any order. @throws {HttpError} 409 or 422, saying which */
export async function receiveHomeChunk(pool: pg.Pool, home: HomeRow, index: number, sha256: string, samples: Uint8Array): Promise<void> {
  const hash = createHash('sha256').update(samples).digest();
  if (hash.toString('hex') !== sha256.toLowerCase()) throw new HttpError(422, 'checksum', 'The chunk was damaged on its way: its checksum does not match. Send it again.');
  const frames = samples.length / BYTES_PER_SAMPLE[home.format];
  if (!Number.isInteger(frames) || frames < 1 || frames > HOME_CHUNK_FRAMES) {
    throw new HttpError(422, 'chunk-length', `A chunk holds 1 to ${HOME_CHUNK_FRAMES} whole samples of ${BYTES_PER_SAMPLE[home.format]} bytes; ${samples.length} bytes came.`);
  }
  const there = await keepHomeChunk(pool, home.id, { index, frames, sha256: hash, samples: Buffer.from(samples) });
  if (!there.equals(hash)) throw new HttpError(409, 'chunk-conflict', 'Another chunk is already stored in this place; it was kept.');
}

export interface HomeReport {
  keptSamples: number;
  /** Nothing more comes: all of it was sent. */
  ended: boolean;
  /** What of it is silence because the guest's browser could not keep up. */
  losses: LostStretch[];
}

/** Hears how much is kept at home; at the end, whether all of it has arrived. @throws {HttpError} 409 when it has not */
export async function homeReport(pool: pg.Pool, home: HomeRow, { keptSamples, ended, losses }: HomeReport): Promise<void> {
  await noteKept(pool, home.id, keptSamples, losses);
  if (!ended) return;
  const here = await arrived(pool, home.id);
  if (here !== keptSamples) throw new HttpError(409, 'chunks-missing', `${here} of ${keptSamples} samples have arrived; the rest is to be sent first.`);
  await markHomeComplete(pool, home.id, keptSamples);
  const take = await findTake(pool, home.take);
  if (take.state === 'sealed') await placeHomes(pool, home.take);
}

/** Asks for the placing of everything that is complete. */
export async function placeHomes(pool: pg.Pool, take: string): Promise<void> {
  for (const track of await tracksWithHome(pool, take)) await askFor(pool, take, { kind: 'home', params: { track } });
}
