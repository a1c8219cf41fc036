const KEY = 'brisk-lantern-window';

let own: string | null = null;

/**
 * Names this window for as long as it is open, reloads included. A copy of the window, and whatever
 * opens in its place, is another one.
 */
export function windowId(): string {
  if (own) return own;
  const [navigation] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[];
  const kept = sessionStorage.getItem(KEY);
  own = navigation?.type === 'reload' && kept ? kept : crypto.randomUUID();
  sessionStorage.setItem(KEY, own);
  return own;
}
