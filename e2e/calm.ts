import { machineShares } from '../scripts/machine-time.mjs';

/** A window of watching, and the most that others may take of it. */
const WINDOW_MS = 400;
const MOST_TAKEN = 0.15;
/** So long in all, over a whole run: a machine that is never calm is tested as it is. */
const PATIENCE_MS = 3 * 60_000;
let left = PATIENCE_MS;

/** A piece of work that always is the same, of a millisecond or two, and how often it is done. */
const STEPS = 700_000;
const EVERY_MS = 500;
/** A processor changes its pace, and our own threads share its caches: so much slower says nothing of others. */
const OWN_SLOWNESS = 1.6;
/** The least it ever took here, ms. */
let best = Infinity;

/** How long that work takes now, ms: a machine may give its processors away and not say so. */
function measureWork(): number {
  const began = performance.now();
  let value = 1;
  for (let step = 0; step < STEPS; step++) value = (Math.imul(value, 1_664_525) + 1_013_904_223) | 0;
  const took = performance.now() - began + (value === 0 ? 1e-9 : 0);
  best = Math.min(best, took);
  return took;
}

/** Watches the machine from now on. What it returns tells the share of all processors that other machines took since: as the system tells it, and by how long the same work takes. */
export function watchMachine(): () => number {
  const since = machineShares();
  const took = Array.from({ length: 20 }, measureWork);
  const timer = setInterval(() => took.push(measureWork()), EVERY_MS).unref();
  return () => {
    clearInterval(timer);
    // Most are not interrupted; those that are say how busy we are, and not how fast.
    const usual = took.toSorted((a, b) => a - b)[Math.floor(took.length / 4)];
    const speed = Math.min(1, (OWN_SLOWNESS * best) / usual);
    return 1 - (1 - (since()?.taken ?? 0)) * speed;
  };
}

/**
 * Waits for a moment in which the processors are ours. Calls run in real time: on a shared machine whose other guests
 * take most of it no browser keeps one up, and nothing is learnt about the product.
 */
export async function calmMachine(): Promise<void> {
  while (left > 0) {
    const shares = machineShares();
    await new Promise((resolve) => setTimeout(resolve, WINDOW_MS));
    left -= WINDOW_MS;
    if ((shares()?.taken ?? 0) <= MOST_TAKEN) return;
  }
}
