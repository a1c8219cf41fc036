import type { StripSettings } from '../strip/settings';
import { earsOf, nameInId, talkbackOf, voiceOf, phonesOf, returnOf, type ListenerId, type SeatId, type SourceId } from './ids';
import { listenersOf, sourcesOf, type HearingPlan, type Seat } from './plan';

/**
 * The plan with these seats and no others: whoever is gone leaves nothing behind, whoever is new
 * gets what the rules say. A caller who comes by link waits until the host brings them up.
 */
export function withSeats(plan: HearingPlan, seats: readonly Seat[]): HearingPlan {
  const before = new Map(plan.seats.map((seat) => [seat.id, seat]));
  const isNewLink = ({ id, line, role }: Seat) => role === 'caller' && line === 'link' && before.get(id)?.line !== 'link';
  const callers = new Set(seats.filter(({ role }) => role === 'caller').map(({ id }) => id));
  const waiting = new Set<SeatId>(plan.waiting.filter((id) => callers.has(id)));
  for (const seat of seats) if (isNewLink(seat)) waiting.add(seat.id);

  const next: HearingPlan = { ...plan, seats: seats.map((seat) => ({ ...personOnly(before.get(seat.id)), ...seat })), waiting: [...waiting] };
  const sources = new Set<string>(sourcesOf(next).map(({ id }) => id));
  const listeners = new Set<string>(listenersOf(next).map(({ id }) => id));
  const places = new Set([...sources, ...listeners, ...seats.map(({ id }) => earsOf(id))]);
  const keep = <Value>(record: Partial<Record<string, Value>>, ids: Set<string>) =>
    Object.fromEntries(Object.entries(record).filter(([id]) => ids.has(id)));
  return {
    ...next,
    sources: keep(plan.sources, sources),
    ducking: Object.fromEntries(
      Object.entries(plan.ducking).map(([id, one]) => [id, { ...one!, under: one!.under?.filter((seat) => seats.some((there) => there.id === seat)) ?? null }]),
    ),
    processing: keep(plan.processing, sources),
    listeners: keep(plan.listeners, listeners),
    exceptions: Object.fromEntries(
      Object.entries(plan.exceptions)
        .filter(([id]) => listeners.has(id))
        .map(([id, row]) => [id, keep(row ?? {}, sources)]),
    ),
    couplings: plan.couplings.filter(({ from, to }) => places.has(from) && places.has(to)),
    groups: plan.groups
      .map((group) => ({ ...group, seats: group.seats.filter((id) => seats.some((seat) => seat.id === id)) }))
      .filter((group) => group.seats.length > 0),
  };
}

/** The plan with what was kept of newcomers' voices: done to them here as in the show's last episode. */
export function withKeptStrips(plan: HearingPlan, before: Pick<HearingPlan, 'seats'>, seats: readonly { id: SeatId; strip: StripSettings | null }[]): HearingPlan {
  const newcomers = seats.filter(({ id, strip }) => strip && !before.seats.some((seat) => seat.id === id) && sourcesOf(plan).some((source) => source.id === voiceOf(id)));
  return newcomers.length === 0 ? plan : { ...plan, processing: { ...plan.processing, ...Object.fromEntries(newcomers.map(({ id, strip }) => [voiceOf(id), strip])) } };
}

/** What a plan alone knows of a seat. */
const personOnly = (seat: Seat | undefined): Pick<Seat, 'person'> => (seat?.person === undefined ? {} : { person: seat.person });

/** A seat as a plan holds it. */
export const seatOfPlan = ({ id, name, role, line, reflexive, people }: Omit<Seat, 'people'> & { people: readonly string[] }): Seat => ({
  id,
  name,
  role,
  line,
  reflexive,
  ...(people.length > 1 && { people: [...people] }),
});

/** An id for a newcomer: their name in small letters, with a number where somebody has it. */
export function seatIdFor(name: string, taken: readonly SeatId[]): SeatId {
  const plain = name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 32);
  const base = plain || 'guest';
  if (!taken.includes(base)) return base;
  let number = 2;
  while (taken.includes(`${base}-${number}`)) number++;
  return `${base}-${number}`;
}

/** The source a seat's line feeds: a producer's microphone is heard as talkback only. */
export const sourceOfLine = ({ id, role }: Pick<Seat, 'id' | 'role'>): SourceId => (role === 'producer' ? talkbackOf(id) : voiceOf(id));

/** The listener a seat's line carries: a producer hears the program. */
export function listenerOfLine({ id, role }: Pick<Seat, 'id' | 'role'>): ListenerId {
  if (role === 'producer') return 'program';
  return role === 'host' ? phonesOf(id) : returnOf(id);
}

/** The seat a voice, talkback or return belongs to. */
export const seatOfId = (id: SourceId | ListenerId): SeatId => nameInId(id);
