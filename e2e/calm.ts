import { readFile } from 'node:fs/promises';

/** A window of watching, and the most that others may take of it. */
const WINDOW_MS = 1000;
const MOST_TAKEN = 0.15;
/** So long in all, over a whole run: a machine that is never calm is tested as it is. */
const PATIENCE_MS = 10 * 60_000;
let left = PATIENCE_MS;

/** Time of all processors so far, and how much of it other machines on the same host took (steal), in ticks. */
async function processorTimes(): Promise<{ all: number; taken: number } | null> {
  const text = await readFile('/proc/stat', 'utf8').catch(() => null);
  const ticks = text?.split('\n')[0].trim().split(/\s+/).slice(1).map(Number);
  return ticks ? { all: ticks.slice(0, 8).reduce((sum, one) => sum + one, 0), taken: ticks[7] } : null;
}

/**
 * Waits for a moment in which the processors are ours. Calls run in real time: on a shared machine whose other guests
 * take most of it no browser keeps one up, and nothing is learnt about the product.
 */
export async function calmMachine(): Promise<void> {
  while (left > 0) {
    const before = await processorTimes();
    if (!before) return;
    await new Promise((resolve) => setTimeout(resolve, WINDOW_MS));
    left -= WINDOW_MS;
    const now = await processorTimes();
    if (!now || now.taken - before.taken <= MOST_TAKEN * (now.all - before.all)) return;
  }
}
