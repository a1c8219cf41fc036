import { readdirSync, readFileSync } from 'node:fs';
import { machineShares } from './machine-time.mjs';

/** Processors that were busy: 1 is a whole one. */
export interface ProcessorUse {
  /** The server's processes that this one started. */
  server: number;
  database: number;
  /** This process. */
  sender: number;
  /** Share of all processors' time that was idle, and that other machines took; null where it is not told. */
  idle: number | null;
  takenByOthers: number | null;
}

/** Ticks in a second of what proc(5) counts in. */
const TICKS = 100;

/** Begins to count. What it returns tells who has kept processors busy since. */
export function processorSeconds(): () => ProcessorUse {
  const before = ticksOfAll();
  const began = performance.now();
  const shares = machineShares();
  return () => {
    const seconds = (performance.now() - began) / 1000;
    const sums = { server: 0, database: 0, sender: 0 };
    for (const [pid, { who, ticks }] of ticksOfAll()) sums[who] += ticks - (before.get(pid)?.ticks ?? 0);
    const busy = (ticks: number) => Math.round((100 * ticks) / TICKS / seconds) / 100;
    const machine = shares();
    return { server: busy(sums.server), database: busy(sums.database), sender: busy(sums.sender), idle: rounded(machine?.idle), takenByOthers: rounded(machine?.taken) };
  };
}

const rounded = (share: number | undefined): number | null => (share === undefined ? null : Math.round(100 * share) / 100);

function ticksOfAll(): Map<number, { who: 'server' | 'database' | 'sender'; ticks: number }> {
  const all = new Map<number, { name: string; parent: number; ticks: number }>();
  for (const pid of readdirSync('/proc').map(Number).filter(Boolean)) {
    try {
      const [, name, rest] = /^\d+ \((.*)\) (.*)$/s.exec(readFileSync(`/proc/${pid}/stat`, 'latin1'))!;
      const fields = rest.split(' ');
      all.set(pid, { name, parent: Number(fields[1]), ticks: Number(fields[11]) + Number(fields[12]) });
    } catch {
      // It has ended meanwhile.
    }
  }
  const isBelow = (pid: number): boolean => pid === process.pid || (all.has(pid) && isBelow(all.get(pid)!.parent));
  return new Map(
    [...all].flatMap(([pid, { name, ticks }]) => {
      const who = pid === process.pid ? 'sender' : name === 'postgres' ? 'database' : isBelow(pid) ? 'server' : null;
      return who ? [[pid, { who, ticks }] as const] : [];
    }),
  );
}
