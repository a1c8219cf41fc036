import type { LineState } from '../lines/line-state';
import type { DeskSeat, SeatInvitation } from './desk-data';

/** The rooms of an episode, in the order of the work. */
export const ROOMS = ['prepare', 'sounds', 'hearing', 'check', 'live', 'takes'] as const;
export type Room = (typeof ROOMS)[number];

/** What is known of an episode, as far as the next thing to do depends on it. */
export interface WorkFacts {
  seats: readonly Pick<DeskSeat, 'id' | 'name' | 'role' | 'line' | 'practice'>[];
  invitations: readonly SeatInvitation[];
  /** States of the lines, by seat; nothing where none is known. */
  lines: Readonly<Record<string, LineState | undefined>>;
  /** The browser may not use microphones, or has none. */
  noMicrophone: boolean;
  pads: number;
  /** Findings of the audit that cannot wait and were not accepted. */
  urgent: number;
  /** A line check is on; one holds that was made for this call. */
  check: 'on' | 'done' | 'none';
  call: 'off' | 'starting' | 'running' | 'blocked';
  recording: boolean;
  /** The take that was sealed last at this desk; null for none. */
  lastTake: number | null;
  takes: number;
  /** A take that was begun and never sealed. */
  openTake: boolean;
  nowMs: number;
}

/** Something that is missing before an episode can be recorded. */
export interface Missing {
  seat: string | null;
  words: string;
  /** For a button. */
  short: string;
  /** Only somebody else can do it: it is waited for. */
  waits: boolean;
}

/** Why somebody cannot be heard yet; null where nothing is missing. */
export function missingOf({ seats, invitations, lines, nowMs }: Pick<WorkFacts, 'seats' | 'invitations' | 'lines' | 'nowMs'>, id: string): Missing | null {
  const seat = seats.find((one) => one.id === id);
  if (!seat || seat.role === 'host') return null;
  const missing = (words: string, short: string, waits = false): Missing => ({ seat: id, words: `${seat.name} ${words}`, short, waits });
  const state = lines[id];
  if (seat.line === 'pair') {
    if (state === undefined || state === 'unplugged') return missing('has no devices yet.', `Choose ${seat.name}’s devices`);
    if (state === 'one-end') return missing('has one device only: the other end is missing.', `Choose ${seat.name}’s devices`);
    if (state === 'away') return missing('waits for a device that is not plugged in.', `Plug in ${seat.name}’s device`);
    if (state === 'refused') return missing('has a device that cannot be opened.', `Look at ${seat.name}’s device`);
    if (state === 'looped') return missing('is kept shut: both ends are one cable.', `Mend ${seat.name}’s cables`);
    return null;
  }
  if (seat.line === 'practice') return seat.practice || seat.role === 'producer' ? null : missing('has no line yet.', `Choose ${seat.name}’s line`);
  if (seat.line !== 'link') return null;
  const invitation = invitations.find((one) => one.seat === id);
  if (!invitation) return missing('has no link yet.', `Invite ${seat.name}`);
  if (Date.parse(invitation.expiresAt) < nowMs) return missing('has a link that ran out.', `Invite ${seat.name} again`);
  if (state === undefined || state === 'none' || state === 'invited') return invitation.openedAt === null ? missing('has not opened the link yet.', '', true) : null;
  return null;
}

/** Everything that is missing in Prepare: what the host can do first, then what is waited for. */
export function missingInPrepare(facts: WorkFacts): Missing[] {
  const { seats, noMicrophone } = facts;
  const all: Missing[] = [];
  if (!seats.some(({ role }) => role === 'caller')) all.push({ seat: null, words: 'Nobody is in this episode but you.', short: 'Add your guests', waits: false });
  for (const { id } of seats) {
    const missing = missingOf(facts, id);
    if (missing) all.push(missing);
  }
  if (noMicrophone && !seats.some(({ role, practice }) => role === 'host' && practice)) all.push({ seat: null, words: 'The browser has no microphone for you.', short: 'Choose your microphone', waits: false });
  return all.toSorted((a, b) => Number(a.waits) - Number(b.waits));
}

/** How far a room is: `todo` with so many things, `running`, `ready`, or `empty` where there is nothing yet and nothing must be. */
export interface RoomState {
  state: 'todo' | 'running' | 'ready' | 'empty';
  count: number;
  words: string;
}

const things = (count: number): string => (count === 1 ? '1 thing to do' : `${count} things to do`);

export function roomStates(facts: WorkFacts): Record<Room, RoomState> {
  const { pads, urgent, check, call, recording, takes, openTake } = facts;
  const missing = missingInPrepare(facts).filter(({ waits }) => !waits).length;
  const todo = (count: number): RoomState => ({ state: 'todo', count, words: things(count) });
  const other = (state: 'running' | 'ready' | 'empty', words: string): RoomState => ({ state, count: 0, words });
  return {
    prepare: missing > 0 ? todo(missing) : other('ready', 'ready'),
    sounds: pads > 0 ? other('ready', `${pads} on pads`) : other('empty', 'no pads yet'),
    hearing: urgent > 0 ? todo(urgent) : other('ready', 'safe'),
    check: check === 'on' ? other('running', 'a line check is on') : check === 'done' ? other('ready', 'measured') : other('empty', 'not measured yet'),
    live: recording ? other('running', 'recording') : call === 'running' ? other('running', 'the call runs') : other('empty', 'no call runs'),
    takes: openTake ? todo(1) : takes > 0 ? other('ready', takes === 1 ? '1 take' : `${takes} takes`) : other('empty', 'no take yet'),
  };
}

/** The next useful thing, as a button says it, and where it is done; null where the host is at it. */
export function nextStep(facts: WorkFacts, here: Room | null): { room: Room; words: string } | null {
  const step = wanted(facts);
  return step && step.room !== here ? step : null;
}

function wanted(facts: WorkFacts): { room: Room; words: string } | null {
  const { call, recording, lines, urgent, lastTake, openTake } = facts;
  if (recording) return { room: 'live', words: 'Back to the desk' };
  const waiting = facts.seats.find(({ id }) => lines[id] === 'waiting');
  if (call === 'running' && waiting) return { room: 'live', words: `Bring ${waiting.name} up` };
  if (openTake) return { room: 'live', words: 'Seal the open take' };
  if (lastTake !== null) return { room: 'takes', words: `Listen to take ${lastTake}` };
  const [first] = missingInPrepare(facts).filter(({ waits }) => !waits);
  if (first && call === 'off') return { room: 'prepare', words: first.short };
  if (urgent > 0) return { room: 'hearing', words: urgent === 1 ? 'See what is unsafe' : `See ${urgent} unsafe things` };
  // That the call can be started its own button says.
  if (call === 'running' && facts.check === 'none' && facts.seats.some(({ role }) => role === 'caller')) return { room: 'check', words: 'Measure the lines' };
  return call === 'running' ? { room: 'live', words: 'On to Live' } : null;
}
