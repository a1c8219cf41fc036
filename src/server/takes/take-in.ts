import type pg from 'pg';
import type { TakenIn } from '@/core/takes/take-package';
import { inTransaction } from '../database';
import { storeMarker } from './markers';
import type { BegunTake } from './begin-take';
import { keepPlugs } from './plugs';
import { insertLateTrack, insertTake } from './queries';

/** Begins a take that another installation has recorded: everything of it but its sound, which comes as a desk's does. */
export async function beginTakenIn(pool: pg.Pool, episode: string, given: TakenIn): Promise<BegunTake> {
  return inTransaction(pool, async (client) => {
    const { id, number } = await insertTake(client, { episode, plan: given.plan, hands: given.hands, leftOut: given.notRecorded });
    await client.query('update take set started_at = $2, name = $3, note = $4 where id = $1', [id, given.startedAt, given.name, given.note]);
    /** Ids here by the ids there: what was made of a track points at it. */
    const ids = new Map<string, string>();
    for (const { track, kind, recorded, person, channels, format, fromSample } of given.files) {
      ids.set(track, crypto.randomUUID());
      await insertLateTrack(client, id, { id: ids.get(track)!, kind, recorded, name: person, channels, format, fromSample });
    }
    for (const { track, derivedFrom, made } of given.files) {
      const from = derivedFrom === null ? null : ids.get(derivedFrom);
      if (from) await client.query('update track set derived_from = $2, made = $3 where id = $1', [ids.get(track), from, JSON.stringify(made ?? {})]);
    }
    for (const { seat, name, consent, agreedAt } of given.people) {
      await client.query('insert into take_consent (take_id, seat_id, name, wording, agreed_at) values ($1, $2, $3, $4, $5) on conflict do nothing', [id, seat, name, consent, agreedAt]);
    }
    for (const marker of given.markers) await storeMarker(client, id, { ...marker, id: crypto.randomUUID() });
    for (const plugs of given.devices) await keepPlugs(client, id, plugs);
    for (const [place, play] of given.plays.entries()) {
      await client.query(
        'insert into take_play (take_id, place, sound_id, name, kind, file_name, at_sample, length_samples, gain_db, peak_db, rms_db) values ($1, $2, null, $3, $4, $5, $6, $7, $8, $9, $10)',
        [id, place, play.name, play.kind, play.fileName, play.atSample, play.lengthSamples, play.gainDb, play.peakDb, play.rmsDb],
      );
    }
    return { take: id, number, tracks: given.files.map(({ track }) => ids.get(track)!) };
  });
}
