'use client';

import { DESK_ACTION_NAMES, SHEET_KEY } from '@/core/session/desk-actions';
import { useKeys } from '../use-keys';
import { useDesk, useDeskState } from './desk-context';

/** The desk's keys. Each is shown on the control it works. */
export function DeskKeys({ onSheet }: { onSheet(): void }) {
  const desk = useDesk();
  const keys = useDeskState((state) => state.keys);
  const board = useDeskState((state) => state.pads);
  const padKeys = [...new Set(board.map(({ key }) => key))].filter((key) => key !== '');
  const pads = padKeys.map((key) => [key, { press: () => desk.pads.pressKey(key), release: () => desk.pads.releaseKey(key) }] as const);
  const bound = DESK_ACTION_NAMES.map((action) => [keys[action], desk.actions[action]] as const);
  useKeys({ ...Object.fromEntries(pads), ...Object.fromEntries(bound), [SHEET_KEY]: { press: onSheet } }, () => desk.hands.releaseHeld());
  return null;
}
