import type { ShowRole } from '@/core/access/rights';
import { withComputerShare } from '@/core/hearing/computer-share';
import { seatOfPlan, withKeptStrips, withSeats } from '@/core/hearing/seats';
import type { DeskData, DeskSeat, SeatInvitation } from '@/core/session/desk-data';
import { listStations } from '../air/stations';
import { listInvitations } from '../access/invitations';
import { newestLineCheck } from '../checks/line-checks';
import type { Querier } from '../database';
import { findKeys } from '../keys/queries';
import { findMidi } from '../midi/queries';
import { findHabits, findOwnHabits } from '../shows/habits';
import { findRecordingSettings } from '../shows/recording-settings';
import { findSoundSettings } from '../shows/sound-settings';
import { listTakes } from '../takes/queries';
import { findEpisode, findPlan, listPads, listSeats, type SeatRow } from './queries';

export interface DeskViewer {
  account: string;
  role: ShowRole;
}

/** Everything a desk needs to know of its episode. @throws {HttpError} 404 */
export async function loadDesk(db: Querier, episodeId: string, viewer: DeskViewer): Promise<DeskData> {
  const episode = await findEpisode(db, episodeId);
  const [seats, pads, { plan, version }, takes, keys, midi, invitations, soundSettings, recordingSettings, showHabits, ownHabits, lastCheck, stations] = await Promise.all([
    listSeats(db, episodeId),
    listPads(db, episodeId),
    findPlan(db, episodeId),
    listTakes(db, episodeId),
    findKeys(db, viewer.account),
    findMidi(db, viewer.account),
    listInvitations(db, episodeId),
    findSoundSettings(db, episode.show_id),
    findRecordingSettings(db, episode.show_id),
    findHabits(db, episode.show_id),
    findOwnHabits(db, episodeId),
    newestLineCheck(db, episodeId),
    listStations(db, episode.show_id),
  ]);
  const open = takes.find(({ state }) => state === 'recording');
  return {
    episode: {
      id: episode.id,
      number: episode.number,
      title: episode.title,
      show: episode.show,
      showId: episode.show_id,
      timeZone: episode.time_zone,
      plannedAt: episode.planned_at?.toISOString() ?? null,
      plannedMinutes: episode.planned_minutes,
    },
    role: viewer.role,
    seats: seats.map(deskSeat),
    invitations: invitations.map(seatInvitation),
    pads,
    // The seats are kept on their own; a plan stored before one came or went follows here.
    plan: withKeptStrips(withSeats(withComputerShare(plan), seats.map(seatOfPlan)), plan, seats),
    planVersion: version,
    keys,
    midi,
    soundSettings,
    recordingSettings,
    stations,
    showHabits,
    ownHabits,
    lastCheck,
    callRunning: episode.call_started_at !== null,
    takes: takes.filter(({ state }) => state !== 'recording').length,
    openTake: open ? { id: open.id, number: open.number } : null,
  };
}

export function deskSeat({ id, role, line, practice, line_settings, name, full_name, about, reflexive, people, strip }: SeatRow): DeskSeat {
  return { id, role, line, practice, lineSettings: line_settings, name, fullName: full_name, about, reflexive, people, strip };
}

export const seatInvitation = ({ seat, expiresAt, openedAt }: { seat: string; expiresAt: Date; openedAt: Date | null }): SeatInvitation => ({
  seat,
  expiresAt: expiresAt.toISOString(),
  openedAt: openedAt?.toISOString() ?? null,
});
