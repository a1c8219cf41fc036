import {
  feedOf,
  PROGRAM,
  phonesOf,
  returnOf,
  soundsOf,
  voiceOf,
  type ListenerId,
  type SeatId,
  type SourceId,
} from './ids';

export const SEAT_ROLES = ['host', 'caller', 'producer'] as const;
export type SeatRole = (typeof SEAT_ROLES)[number];

export const LINE_KINDS = ['link', 'pair', 'tab', 'practice'] as const;
export type LineKind = (typeof LINE_KINDS)[number];

export const REFLEXIVES = ['herself', 'himself', 'themselves'] as const;
export type Reflexive = (typeof REFLEXIVES)[number];

export interface Seat {
  id: SeatId;
  /** What the host calls this person; one short word where possible. */
  name: string;
  role: SeatRole;
  line: LineKind;
  reflexive: Reflexive;
}

/** A group of pads heard as one source. */
export interface Player {
  id: string;
  name: string;
}

export interface Feed {
  id: string;
  name: string;
}

/** What a listener hears unless a crosspoint was changed by hand. */
export const HEARING_RULES = [
  'everyone-and-sounds',
  'everyone',
  'host-and-sounds',
  'host',
  'own-choice',
] as const;
export type HearingRule = (typeof HEARING_RULES)[number];

/** One source into one listener. A closed crosspoint keeps its level for when it is opened again. */
export interface Crosspoint {
  open: boolean;
  /** Level of an open crosspoint in dB, {@link LOWEST_DB} to {@link HIGHEST_DB}. */
  gainDb: number;
}

export interface SourceSettings {
  /** Whether the source is in the mixes at all. Tracks do not care. */
  on: boolean;
  /** Level of the source in every mix, dB. */
  trimDb: number;
}

export interface ListenerSettings {
  rule: HearingRule;
  /** Level of the whole mix, dB. */
  levelDb: number;
}

export const LOWEST_DB = -60;
export const HIGHEST_DB = 12;

/**
 * Who hears what in one episode. Rules come first; `exceptions` are the crosspoints changed by
 * hand. Settings and exceptions that are absent stand for the defaults.
 */
export interface HearingPlan {
  seats: Seat[];
  players: Player[];
  feeds: Feed[];
  sources: Partial<Record<SourceId, SourceSettings>>;
  listeners: Partial<Record<ListenerId, ListenerSettings>>;
  exceptions: Partial<Record<ListenerId, Partial<Record<SourceId, Crosspoint>>>>;
}

export type Source =
  | { id: SourceId; kind: 'voice'; name: string; seat: Seat }
  | { id: SourceId; kind: 'sounds'; name: string; player: Player };

export type Listener =
  | { id: ListenerId; kind: 'phones'; name: string; seat: Seat }
  | { id: ListenerId; kind: 'return'; name: string; seat: Seat }
  | { id: ListenerId; kind: 'program'; name: string }
  | { id: ListenerId; kind: 'feed'; name: string; feed: Feed };

/** The plan of an episode before anybody touched it: default rules, everything open at 0 dB. */
export function createPlan(seats: Seat[], players: Player[] = [], feeds: Feed[] = []): HearingPlan {
  return { seats, players, feeds, sources: {}, listeners: {}, exceptions: {} };
}

/** All sources in the order of seats, then sound players. */
export function sourcesOf(plan: HearingPlan): Source[] {
  const voices = plan.seats
    .filter((seat) => seat.role !== 'producer')
    .map((seat): Source => ({ id: voiceOf(seat.id), kind: 'voice', name: seat.name, seat }));
  const players = plan.players.map(
    (player): Source => ({ id: soundsOf(player.id), kind: 'sounds', name: player.name, player }),
  );
  return [...voices, ...players];
}

/** All listeners: the host's phones, a return for each caller, the program, then feeds. */
export function listenersOf(plan: HearingPlan): Listener[] {
  const people = plan.seats.flatMap((seat): Listener[] => {
    if (seat.role === 'host') {
      return [{ id: phonesOf(seat.id), kind: 'phones', name: seat.name, seat }];
    }
    if (seat.role === 'caller') {
      return [{ id: returnOf(seat.id), kind: 'return', name: seat.name, seat }];
    }
    return [];
  });
  const feeds = plan.feeds.map(
    (feed): Listener => ({ id: feedOf(feed.id), kind: 'feed', name: feed.name, feed }),
  );
  return [...people, { id: PROGRAM, kind: 'program', name: 'Program' }, ...feeds];
}

export function sourceSettings(plan: HearingPlan, source: SourceId): SourceSettings {
  return plan.sources[source] ?? { on: true, trimDb: 0 };
}

export function listenerSettings(plan: HearingPlan, listener: ListenerId): ListenerSettings {
  return plan.listeners[listener] ?? { rule: 'everyone-and-sounds', levelDb: 0 };
}
