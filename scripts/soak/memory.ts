import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Devtools, Target } from './devtools';

const MB = 2 ** 20;
/** A process answers a signal when it is let run. */
const ANSWER_MS = 10_000;

/** Memory the kernel holds for a process alone, MB (proc(5): RssAnon). */
export function ownMemory(pid: number): number {
  return Number(/^RssAnon:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? NaN) / 1024;
}

/** All processes of a PostgreSQL server, MB; what they share does not count. */
function databaseMemory(port: string): number {
  const words = new Map<number, { parent: number; postmaster: boolean }>();
  for (const pid of readdirSync('/proc').map(Number).filter(Boolean)) {
    try {
      const [, parent] = /^PPid:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))!;
      const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0');
      words.set(pid, { parent: Number(parent), postmaster: line[0].endsWith('/postgres') && line.includes(port) });
    } catch {
      // It has ended meanwhile.
    }
  }
  let sum = 0;
  for (const [pid, { parent, postmaster }] of words) if (postmaster || words.get(parent)?.postmaster) sum += ownMemory(pid);
  return sum;
}

/** What the heap of a page, worker or worklet has in use, MB; what it holds outside the heap counts. */
interface Usage {
  usedSize: number;
  embedderHeapUsedSize?: number;
  backingStorageSize?: number;
}
const inUse = ({ usedSize, embedderHeapUsedSize = 0, backingStorageSize = 0 }: Usage): number => (usedSize + embedderHeapUsedSize + backingStorageSize) / MB;

/** What everything that runs in a page holds, MB after collecting: itself, its workers, its audio worklets; and the process they are in. */
export async function pageMemory(browser: Devtools, targets: readonly Target[]): Promise<{ heaps: Record<'page' | 'workers' | 'worklets', number>; renderer: number }> {
  const heaps = { page: 0, workers: 0, worklets: 0 };
  for (const { sessionId, kind } of targets) {
    // What a worker has thrown away it collects late, and what that holds outside its heap is the renderer's. A worklet must not stand still.
    if (kind !== 'worklet') await browser.ask('HeapProfiler.collectGarbage', {}, sessionId);
    const usage = (await browser.ask('Runtime.getHeapUsage', {}, sessionId)) as unknown as Usage | null;
    if (usage) heaps[kind === 'page' ? 'page' : kind === 'worklet' ? 'worklets' : 'workers'] += inUse(usage);
  }
  const { processInfo } = (await browser.ask('SystemInfo.getProcessInfo')) as unknown as { processInfo: { type: string; id: number; cpuTime: number }[] };
  const [busiest] = processInfo.filter(({ type }) => type === 'renderer').sort((one, other) => other.cpuTime - one.cpuTime);
  return { heaps, renderer: busiest.id };
}

/** What processes of the product have in use after throwing away what nobody holds, MB; see tell-memory.mjs. */
export async function productMemory(processes: Record<string, number | undefined>, folder: string): Promise<Record<string, number>> {
  const asked = Date.now();
  const running = Object.entries(processes).flatMap(([name, pid]) => (pid === undefined ? [] : [{ name, pid }]));
  for (const { pid } of running) process.kill(pid, 'SIGUSR2');
  const read: Record<string, number> = {};
  for (const { name, pid } of running) {
    const file = join(folder, String(pid));
    const answered = () => (statSync(file, { throwIfNoEntry: false })?.mtimeMs ?? 0) >= asked - 10;
    while (!answered() && Date.now() < asked + ANSWER_MS) await new Promise((resolve) => setTimeout(resolve, 50));
    if (answered()) read[name] = Number(readFileSync(file, 'utf8'));
  }
  return read;
}

/** Memory of the database's processes, MB. */
export const memoryOfDatabase = (url: string): Record<string, number> => ({ database: databaseMemory(new URL(url).port) });
