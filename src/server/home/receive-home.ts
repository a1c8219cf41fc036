import { createHash } from 'node:crypto';
import type pg from 'pg';
import { BYTES_PER_SAMPLE } from '@/core/formats/wav/sample-format';
import type { LostStretch } from '@/core/takes/chunker';
import { HOME_CHUNK_FRAMES } from '@/core/takes/chunks';
import type { Guest } from '../access/invitations';
import { newToken } from '../access/tokens';
import { HttpError } from '../http/errors';
import { askFor } from '../jobs/ask-for';
import { takeConsents } from '../seats/queries';
import { findTake } from '../takes/queries';
import { homeQuotas, MOST_HOMES_OF_SEAT, mostSamples } from './home-limits';
import { arrived, homeBytes, homeChunkChecksum, insertHome, keepHomeChunk, markHomeComplete, noteKept, tracksWithHome, type HomeRow } from './queries';

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
  if (agreed) await requireRoom(pool, take, seat);
  const home = agreed ? await insertHome(pool, take, episode, seat, FORMAT, hash) : null;
  if (!home) throw new HttpError(409, 'not-recorded', 'Your line is not on a take that is being recorded, so nothing is recorded at your end either.');
  return { home, key: token };
}

/** @throws {HttpError} 507 when recordings made at home have taken up what they may */
async function requireRoom(pool: pg.Pool, take: string, seat: string): Promise<void> {
  const quotas = homeQuotas();
  const used = await homeBytes(pool, take, seat);
  const full = used.seat >= quotas.seat ? 'of yours in this take' : used.take >= quotas.take ? 'of this take' : used.show >= quotas.show ? 'of this show' : null;
  if (full) throw new HttpError(507, 'home-full', `Recordings made at home ${full} have taken up the room there is for them on the server. Your line is recorded at the desk.`);
  if (used.count >= MOST_HOMES_OF_SEAT) throw new HttpError(409, 'home-full', 'Your recording was begun too many times in this take. Your line is recorded at the desk.');
}

/**
 * Whether more of a recording may come. @throws {HttpError} 409 or 410 when it is complete, its take is in the bin, or it is
 * too late for the rest
 */
function requireOpen({ lengthSamples, binned, sealedHours }: HomeRow): void {
  if (lengthSamples !== null) throw new HttpError(409, 'home-complete', 'This recording is complete; nothing can be added to it.');
  if (binned) throw new HttpError(410, 'take-binned', 'The take this belongs to was thrown away. What you recorded stays on your computer.');
  const { deadlineHours } = homeQuotas();
  if (sealedHours !== null && sealedHours > deadlineHours) throw new HttpError(410, 'home-too-late', `The rest of this recording came more than ${deadlineHours} hours after its take was finished. What you recorded stays on your computer.`);
}

/** How often the room that is left is looked at, in chunks: sums over many rows are not free. */
const LOOK_EVERY = 64;

/** Takes one chunk, at most once and in any order. @throws {HttpError} 409, 410, 422 or 507, saying which */
export async function receiveHomeChunk(pool: pg.Pool, home: HomeRow, index: number, sha256: string, samples: Uint8Array): Promise<void> {
  const hash = createHash('sha256').update(samples).digest();
  if (hash.toString('hex') !== sha256.toLowerCase()) throw new HttpError(422, 'checksum', 'The chunk was damaged on its way: its checksum does not match. Send it again.');
  const frames = samples.length / BYTES_PER_SAMPLE[home.format];
  if (!Number.isInteger(frames) || frames < 1 || frames > HOME_CHUNK_FRAMES) {
    throw new HttpError(422, 'chunk-length', `A chunk holds 1 to ${HOME_CHUNK_FRAMES} whole samples of ${BYTES_PER_SAMPLE[home.format]} bytes; ${samples.length} bytes came.`);
  }
  if ((await homeChunkChecksum(pool, home.id, index))?.equals(hash)) return;
  requireOpen(home);
  const most = mostSamples(home.openSeconds);
  if (index * HOME_CHUNK_FRAMES + frames > most) {
    throw new HttpError(409, 'home-too-long', `This recording was open for ${Math.round(Math.max(0, home.openSeconds))} s; nothing later can have been captured.`);
  }
  if (index % LOOK_EVERY === 0) await requireRoom(pool, home.take, home.seat);
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
  if (home.lengthSamples === keptSamples && ended) return;
  requireOpen(home);
  await noteKept(pool, home.id, Math.min(keptSamples, mostSamples(home.openSeconds)), losses);
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
