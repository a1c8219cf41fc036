import { readFileSync } from 'node:fs';
import { cpus, loadavg } from 'node:os';

/** Processor time of the whole machine since it began, in ticks: what was idle, what other machines took, and all; null where it is not told. */
function ticks() {
  try {
    const [user, nice, system, idle, wait, irq, softirq, steal] = readFileSync('/proc/stat', 'utf8').split('\n')[0].trim().split(/\s+/).slice(1).map(Number);
    return { idle: idle + wait, steal, all: user + nice + system + idle + wait + irq + softirq + steal };
  } catch {
    return null;
  }
}

/** Begins to count; what it returns says in words how busy the machine was, and how much of it others took. */
export function machineTime() {
  const before = ticks();
  return () => {
    const after = ticks();
    if (!before || !after || after.all === before.all) return 'How busy the machine was is not known here.';
    const share = (key) => Math.round((100 * (after[key] - before[key])) / (after.all - before.all));
    return `Of ${cpus().length} processors ${100 - share('idle')} % were busy; other machines took ${share('steal')} %. Load now ${loadavg().map((load) => load.toFixed(1)).join(', ')}.`;
  };
}
