import type pg from 'pg';
import { MOST_TRACKS } from '@/core/limits';
import { inTransaction } from '../database';
import { HttpError } from '../http/errors';
import { insertGap, insertLateTrack, listTracks, lockTake, type NewTrack } from './queries';

export type LateTrack = NewTrack & { id: string; fromSample: number };

/**
 * Gives a take that is being recorded further tracks, silent up to their first sample. What is there already stays.
 * @throws {HttpError} 404, or 409 for a sealed take or one that is full
 */
export async function addLateTracks(pool: pg.Pool, take: string, tracks: readonly LateTrack[]): Promise<void> {
  await inTransaction(pool, async (client) => {
    const { state } = await lockTake(client, take, 'alone');
    const there = new Set((await listTracks(client, take)).map(({ id }) => id));
    const fresh = tracks.filter(({ id }) => !there.has(id));
    if (fresh.length === 0) return;
    if (state === 'sealed') throw new HttpError(409, 'take-sealed', 'This take is sealed; no track can be added to it.');
    if (there.size + fresh.length > MOST_TRACKS) throw new HttpError(409, 'take-full', `A take has room for ${MOST_TRACKS} tracks. Stop recording and begin another take.`);
    for (const track of fresh) {
      await insertLateTrack(client, take, track);
      if (track.fromSample > 0) await insertGap(client, { track: track.id, atSample: 0, lengthSamples: track.fromSample, cause: 'not-in-call' });
    }
  });
}
