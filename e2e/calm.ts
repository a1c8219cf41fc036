import { machineShares } from '../scripts/machine-time.mjs';

/** A window of watching, and the most that others may take of it. */
const WINDOW_MS = 1000;
const MOST_TAKEN = 0.15;
/** So long in all, over a whole run: a machine that is never calm is tested as it is. */
const PATIENCE_MS = 10 * 60_000;
let left = PATIENCE_MS;

/** Watches the machine from now on. What it returns tells the share of all processors that other machines took since. */
export function watchMachine(): () => number {
  const since = machineShares();
  return () => since()?.taken ?? 0;
}

/**
 * Waits for a moment in which the processors are ours. Calls run in real time: on a shared machine whose other guests
 * take most of it no browser keeps one up, and nothing is learnt about the product.
 */
export async function calmMachine(): Promise<void> {
  while (left > 0) {
    const taken = watchMachine();
    await new Promise((resolve) => setTimeout(resolve, WINDOW_MS));
    left -= WINDOW_MS;
    if (taken() <= MOST_TAKEN) return;
  }
}
