'use client';

import { useKeys } from '../use-keys';
import { useDesk } from './desk-context';

export const STOP_ALL_KEY = 'x';

/** The desk's keys. Each is shown on the control it works. */
export function DeskKeys() {
  const desk = useDesk();
  const pads = desk.data.pads.map(({ key, sound }) => [key, () => desk.pressPad(sound)] as const);
  useKeys({ ...Object.fromEntries(pads), [STOP_ALL_KEY]: () => desk.stopAllSounds() });
  return null;
}
