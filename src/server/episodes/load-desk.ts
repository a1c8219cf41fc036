import type { DeskData } from '@/core/session/desk-data';
import type { Querier } from '../database';
import { findKeys } from '../keys/queries';
import { listTakes } from '../takes/queries';
import { findEpisode, findPlan, listPads, listSeats } from './queries';

/** Everything a desk needs to know of its episode. @throws {HttpError} 404 */
export async function loadDesk(db: Querier, episodeId: string): Promise<DeskData> {
  const episode = await findEpisode(db, episodeId);
  const [seats, pads, { plan, version }, takes, keys] = await Promise.all([
    listSeats(db, episodeId),
    listPads(db, episodeId),
    findPlan(db, episodeId),
    listTakes(db, episodeId),
    findKeys(db),
  ]);
  const open = takes.find(({ state }) => state === 'recording');
  return {
    episode: { id: episode.id, number: episode.number, title: episode.title, show: episode.show, showId: episode.show_id },
    seats: seats.map(({ id, role, line, practice, name, full_name, about }) => ({
      id,
      role,
      line,
      practice,
      name,
      fullName: full_name,
      about,
    })),
    pads: pads.map((pad) => ({
      sound: pad.sound_id,
      name: pad.name,
      player: pad.player,
      key: pad.key,
      loops: pad.loops,
      levelDb: pad.level_db,
      lengthSamples: pad.length_samples,
    })),
    plan,
    planVersion: version,
    keys,
    callRunning: episode.call_started_at !== null,
    openTake: open ? { id: open.id, number: open.number } : null,
  };
}
