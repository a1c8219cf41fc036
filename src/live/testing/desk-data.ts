import { DEFAULT_LINE } from '@/core/lines/line-settings';
import { createPlan, type LineKind, type Seat, type SeatRole } from '@/core/hearing/plan';
import { DEFAULT_KEYS } from '@/core/session/desk-actions';
import type { DeskData } from '@/core/session/desk-data';
import { DEFAULT_HABITS } from '@/core/session/habits';
import { DEFAULT_SOUND_SETTINGS } from '@/core/sounds/sound-settings';
import { DEFAULT_RECORDING } from '@/core/takes/recording-settings';

const seat = (id: string, role: SeatRole, line: LineKind): Seat => ({ id, name: id, role, line, reflexive: 'themselves' });

/** A desk of a host, a caller by link, a practice caller, a producer and one player. */
export function deskData(): DeskData {
  const seats = [seat('maren', 'host', 'pair'), seat('runa', 'caller', 'link'), seat('priya', 'caller', 'practice'), seat('wen', 'producer', 'link')];
  return {
    episode: { id: 'e', number: 7, title: 'The slipway', show: 'Boathouse', showId: 's', timeZone: null, plannedAt: null, plannedMinutes: 40 },
    role: 'owner',
    seats: seats.map((one) => ({ ...one, fullName: `${one.name} of the boathouse`, about: '', people: [], lineSettings: DEFAULT_LINE, practice: null, strip: null })),
    invitations: [],
    pads: [],
    plan: createPlan(seats, [{ id: 'bed', name: 'Bed' }]),
    planVersion: 1,
    keys: DEFAULT_KEYS,
    midi: [],
    soundSettings: DEFAULT_SOUND_SETTINGS,
    stations: [],
  recordingSettings: DEFAULT_RECORDING,
    showHabits: DEFAULT_HABITS,
    ownHabits: {},
    lastCheck: null,
    callRunning: false,
    takes: 0,
    openTake: null,
  };
}
