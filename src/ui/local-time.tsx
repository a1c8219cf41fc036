'use client';

import { createContext, useContext, useSyncExternalStore } from 'react';
import { momentInWords, type MomentStyle } from './moment';

const never = () => () => undefined;

const Zone = createContext<string | null>(null);
/** The zone of the show whose times are shown. */
export const ZoneProvider = Zone.Provider;
export const useZone = (): string | null => useContext(Zone);

/** A moment in the show's zone, or the reader's own where there is none: the server, which has another, leaves that to the browser. */
export function LocalTime({ at, style, zone }: { at: string; style?: MomentStyle; zone?: string | null }) {
  const around = useZone();
  const used = zone ?? around;
  const text = useSyncExternalStore(
    never,
    () => momentInWords(at, used, style),
    () => (used ? momentInWords(at, used, style) : '\u2007'),
  );
  return <time dateTime={at}>{text}</time>;
}
