/** What can be done by key on the desk, with the key it has until the host chooses another. */
export const DESK_ACTIONS = {
  cough: { key: 'c', words: 'Cough: keep me out of the call and the program' },
  'talk-all': { key: 't', words: 'Talk to all callers' },
  'talk-1': { key: 'q', words: 'Talk to the first caller' },
  'talk-2': { key: 'w', words: 'Talk to the second caller' },
  'talk-3': { key: 'e', words: 'Talk to the third caller' },
  'talk-4': { key: 'r', words: 'Talk to the fourth caller' },
  mark: { key: 'k', words: 'Mark this moment of the take' },
  'mark-back': { key: 'l', words: 'Mark the last 30 seconds of the take' },
  'own-mix': { key: 'm', words: 'Back to my own mix' },
  dim: { key: 'd', words: 'Dim my phones' },
  'stop-sounds': { key: 'x', words: 'Stop all sounds' },
  'fade-sounds': { key: 'f', words: 'Fade all sounds out' },
  'under-talk': { key: 'g', words: 'From theme to talk: under, held, and out' },
  'listen-first': { key: 'v', words: 'While held, pads play in my phones only' },
  undo: { key: 'u', words: 'Undo the last change of the plan' },
} as const;

export type DeskAction = keyof typeof DESK_ACTIONS;
export type DeskKeys = Record<DeskAction, string>;

export const DESK_ACTION_NAMES = Object.keys(DESK_ACTIONS) as DeskAction[];

export const DEFAULT_KEYS = Object.fromEntries(
  DESK_ACTION_NAMES.map((action) => [action, DESK_ACTIONS[action].key]),
) as DeskKeys;

/** The key of the sheet of all keys and actions; it cannot be another's. */
export const SHEET_KEY = '?';

/** One key that types something, as `KeyboardEvent.key` has it in lower case; not the space. */
export const KEY_PATTERN = /^[^\s\p{Lu}]$/u;

/** What already uses a key: another action or a pad; null when it is free. */
export function keyTakenBy(
  key: string,
  keys: DeskKeys,
  pads: readonly { key: string; name: string }[],
  except?: DeskAction,
): string | null {
  if (key === SHEET_KEY) return 'All keys and actions';
  const action = DESK_ACTION_NAMES.find((one) => one !== except && keys[one] === key);
  if (action) return DESK_ACTIONS[action].words;
  return pads.find((pad) => pad.key === key)?.name ?? null;
}
