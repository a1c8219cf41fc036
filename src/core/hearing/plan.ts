import type { Coupling } from './coupling';
import type { StripSettings } from '../strip/settings';
import type { Ducking } from './source-treatment';
import {
  feedOf,
  inputOf,
  PROGRAM,
  phonesOf,
  returnOf,
  shareOf,
  soundsOf,
  talkbackOf,
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
  /** Whose voice this is, where one person has two lines; the seat's own id otherwise. */
  person?: string;
  /** Everybody who speaks on this line, where it is more than one: they have one return and one track together. */
  people?: string[];
}

/** A group of pads heard as one source. */
export interface Player {
  id: string;
  name: string;
}

/** Sound of another tab or program, shared into the call. */
export interface Share {
  id: string;
  name: string;
}

/** A sound that is nobody’s voice and comes in through a device: an instrument, a player, a capture box. */
export interface Input {
  id: string;
  name: string;
  /** Whether its track has two channels. */
  stereo: boolean;
}

/** A further mix that leaves the desk, named by the host: "stream", "overflow room". */
export interface Feed {
  id: string;
  name: string;
}

/** People to talk to at once, beside the two groups there always are: the guests and the host's side. */
export interface TalkGroup {
  id: string;
  name: string;
  seats: SeatId[];
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

export const LISTENER_KINDS = ['phones', 'return', 'program', 'feed'] as const;
export type ListenerKind = (typeof LISTENER_KINDS)[number];

export interface SourceSettings {
  /** Whether the source is in the mixes at all. Tracks do not care. */
  on: boolean;
  /** Level of the source in every mix, dB. */
  trimDb: number;
  /** −1 is left only, 1 right only; a source in the middle reaches both sides in full. */
  balance: number;
  /** Kinds of listener the source is kept out of while it stays in the others. */
  offIn: ListenerKind[];
  /** So much later into every mix, ms; its track is not shifted. */
  offsetMs: number;
}

export interface ListenerSettings {
  rule: HearingRule;
  /** Level of the whole mix, dB. */
  levelDb: number;
  /** It is given voices as they come in, whatever is done to them for the others. */
  asTheyCome: boolean;
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
  shares: Share[];
  inputs: Input[];
  groups: TalkGroup[];
  /** Callers who are in the call but wait: nobody hears them and they hear nobody. */
  waiting: SeatId[];
  sources: Partial<Record<SourceId, SourceSettings>>;
  listeners: Partial<Record<ListenerId, ListenerSettings>>;
  exceptions: Partial<Record<ListenerId, Partial<Record<SourceId, Crosspoint>>>>;
  /** What goes under the voices by itself, and how. */
  ducking: Partial<Record<SourceId, Ducking>>;
  /** What is done to sources on their way into the mixes. */
  processing: Partial<Record<SourceId, StripSettings>>;
  /** Ways sound takes outside the desk. */
  couplings: Coupling[];
  /** Findings of the audit the host has accepted, by their key, with the reason. */
  accepted: Record<string, string>;
}

export type Source =
  | { id: SourceId; kind: 'voice'; name: string; seat: Seat }
  | { id: SourceId; kind: 'sounds'; name: string; player: Player }
  | { id: SourceId; kind: 'share'; name: string; share: Share }
  | { id: SourceId; kind: 'input'; name: string; input: Input }
  | { id: SourceId; kind: 'talkback'; name: string; seat: Seat };

export type Listener =
  | { id: ListenerId; kind: 'phones'; name: string; seat: Seat }
  | { id: ListenerId; kind: 'return'; name: string; seat: Seat }
  | { id: ListenerId; kind: 'program'; name: string }
  | { id: ListenerId; kind: 'feed'; name: string; feed: Feed };

/** The plan of an episode before anybody touched it: default rules, everything open at 0 dB. */
export function createPlan(
  seats: Seat[],
  players: Player[] = [],
  feeds: Feed[] = [],
  shares: Share[] = [],
  inputs: Input[] = [],
): HearingPlan {
  return {
    seats,
    players,
    feeds,
    shares,
    inputs,
    groups: [],
    waiting: [],
    sources: {},
    listeners: {},
    exceptions: {},
    ducking: {},
    processing: {},
    couplings: [],
    accepted: {},
  };
}

/** All sources: voices, sound players, shares, inputs, and the talkback of everybody on the host's side. */
export function sourcesOf(plan: HearingPlan): Source[] {
  const voices = plan.seats
    .filter((seat) => seat.role !== 'producer')
    .map((seat): Source => ({ id: voiceOf(seat.id), kind: 'voice', name: seat.name, seat }));
  const players = plan.players.map(
    (player): Source => ({ id: soundsOf(player.id), kind: 'sounds', name: player.name, player }),
  );
  const shares = plan.shares.map(
    (share): Source => ({ id: shareOf(share.id), kind: 'share', name: share.name, share }),
  );
  const inputs = plan.inputs.map((input): Source => ({ id: inputOf(input.id), kind: 'input', name: input.name, input }));
  const talkback = plan.seats
    .filter((seat) => seat.role !== 'caller')
    .map((seat): Source => ({ id: talkbackOf(seat.id), kind: 'talkback', name: `${seat.name}’s talkback`, seat }));
  return [...voices, ...players, ...shares, ...inputs, ...talkback];
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

// One object each: a screen can tell by identity that nothing has changed.
const UNTOUCHED_SOURCE: SourceSettings = Object.freeze({ on: true, trimDb: 0, balance: 0, offIn: [], offsetMs: 0 });
const UNTOUCHED_LISTENER: ListenerSettings = Object.freeze({ rule: 'everyone-and-sounds', levelDb: 0, asTheyCome: false });

/**
 * What talking to a group reaches: the returns of its callers. Producers and the host have a desk's
 * own ears or none, so nothing is opened for them.
 */
export function listenersOfGroup(plan: HearingPlan, seats: readonly SeatId[]): ListenerId[] {
  return plan.seats.filter(({ id, role }) => role === 'caller' && seats.includes(id)).map(({ id }) => returnOf(id));
}

/** Whether a source is a sound, and not somebody speaking: rules and beds treat these alike. */
export const isSound = ({ kind }: Source): boolean => kind === 'sounds' || kind === 'share' || kind === 'input';

export function sourceSettings(plan: HearingPlan, source: SourceId): SourceSettings {
  return plan.sources[source] ?? UNTOUCHED_SOURCE;
}

export function listenerSettings(plan: HearingPlan, listener: ListenerId): ListenerSettings {
  return plan.listeners[listener] ?? UNTOUCHED_LISTENER;
}
