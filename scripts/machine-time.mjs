import { readFileSync } from 'node:fs';
import { cpus, loadavg } from 'node:os';

/** Processor time of the whole machine since it began, in ticks (proc(5)): what was idle, what other machines took, and all; null where it is not told. */
function ticks() {
  try {
    const [user, nice, system, idle, wait, irq, softirq, steal] = readFileSync('/proc/stat', 'utf8').split('\n')[0].trim().split(/\s+/).slice(1).map(Number);
    return { idle: idle + wait, steal, all: user + nice + system + idle + wait + irq + softirq + steal };
  } catch {
    return null;
  }
}

/** Begins to count. What it returns tells the shares of all processors' time since: what was idle, and what other machines took; null where it is not told. */
export function machineShares() {
  const before = ticks();
  return () => {
    const after = ticks();
    if (!before || !after || after.all === before.all) return null;
    const share = (key) => (after[key] - before[key]) / (after.all - before.all);
    return { idle: share('idle'), taken: share('steal') };
  };
}

/** The same, in words. */
export function machineTime() {
  const since = machineShares();
  return () => {
    const shares = since();
    if (!shares) return 'How busy the machine was is not known here.';
    const percent = (share) => Math.round(100 * share);
    return `Of ${cpus().length} processors ${100 - percent(shares.idle)} % were busy; other machines took ${percent(shares.taken)} %. Load now ${loadavg().map((load) => load.toFixed(1)).join(', ')}.`;
  };
}
