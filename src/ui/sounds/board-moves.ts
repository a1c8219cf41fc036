import { DESK_ACTION_NAMES, DESK_ACTIONS, KEY_PATTERN } from '@/core/session/desk-actions';
import type { BoardPad } from '@/core/sounds/board';
import type { LibrarySound } from '@/core/sounds/library-sound';
import type { DeskSession } from '@/live/desk/desk-session';

/** Keys given to new pads, in this order. */
const KEYS = [...'1234567890hjzbniopasy'];

/** Puts a sound on a pad of its own, with the first free key; what a bed is for, it does. */
export function withPad(desk: DeskSession, sound: LibrarySound): Promise<void> {
  const { pads, plan, keys } = desk.store.getState();
  const taken = new Set([...pads.map(({ key }) => key), ...DESK_ACTION_NAMES.map((action) => keys[action])]);
  const isBed = sound.kind === 'bed';
  const player = (isBed && plan.players.find(({ id }) => id === 'bed')) || plan.players[0];
  const pad: BoardPad = {
    sound: sound.id,
    player: player?.id ?? 'effects',
    key: KEYS.find((one) => !taken.has(one)) ?? '',
    mode: isBed ? 'loop' : 'once',
    again: isBed ? 'stop' : 'restart',
    group: isBed ? 'beds' : null,
    levelDb: 0,
  };
  return desk.pads.arrange((now) => [...now, pad]);
}

export function changePad(desk: DeskSession, sound: string, change: Partial<BoardPad>): Promise<void> {
  return desk.pads.arrange((pads) => pads.map((pad) => (pad.sound === sound ? { ...pad, ...change } : pad)));
}

/**
 * What a key would mean for a pad: `refused` with the reason, or `shared` with the pads that would
 * start together with it.
 */
export function keyForPad(desk: DeskSession, sound: string, key: string): { refused: string } | { shared: string[] } {
  if (!KEY_PATTERN.test(key)) return { refused: 'Only keys that type a letter, a digit or a sign can be used.' };
  const { keys, pads } = desk.store.getState();
  const action = DESK_ACTION_NAMES.find((one) => keys[one] === key);
  if (action) return { refused: `${key.toUpperCase()} is taken: ${DESK_ACTIONS[action].words}.` };
  return { shared: pads.filter((pad) => pad.key === key && pad.sound !== sound).map(({ name }) => name) };
}
