'use client';

import { format } from 'date-fns';
import { useSyncExternalStore } from 'react';

const never = () => () => undefined;

/** A moment in the host's own zone; the server, which has another, leaves it to the browser. */
export function LocalTime({ at }: { at: string }) {
  const text = useSyncExternalStore(
    never,
    () => format(new Date(at), 'd MMMM yyyy, HH:mm'),
    () => '\u2007',
  );
  return <time dateTime={at}>{text}</time>;
}
