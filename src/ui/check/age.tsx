'use client';

import { useSyncExternalStore } from 'react';

const SECOND_MS = 1000;
const now = (): number => Math.floor(Date.now() / SECOND_MS) * SECOND_MS;
function everySecond(changed: () => void): () => void {
  const timer = setInterval(changed, SECOND_MS);
  return () => clearInterval(timer);
}

/** `12 s ago`, `4 min ago`, `3 h ago`, `2 days ago` */
export function ageInWords(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`;
  if (seconds < 48 * 3600) return `${Math.floor(seconds / 3600)} h ago`;
  return `${Math.floor(seconds / 86_400)} days ago`;
}

/** How long ago something was. */
export function Age({ at }: { at: string }) {
  const current = useSyncExternalStore(everySecond, now, () => 0);
  return <time dateTime={at}>{current === 0 ? '' : ageInWords(current - Date.parse(at))}</time>;
}
