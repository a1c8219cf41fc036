import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { CDPSession, Page } from '@playwright/test';
import { whereMemory } from './where-memory';

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

/** The memory of everything that runs in a page: itself, its workers, its audio worklets, and the process of all of them. */
export class PageMemory {
  #next = 0;
  /** Kind of each thread beside the page's own, by its session. */
  readonly #threads = new Map<string, string>();
  readonly #waiting = new Map<number, (answer: object | null) => void>();

  private constructor(
    private readonly devtools: CDPSession,
    private readonly browser: CDPSession,
  ) {
    devtools.on('Target.attachedToTarget', ({ sessionId, targetInfo }) => this.#threads.set(sessionId, targetInfo.type));
    devtools.on('Target.detachedFromTarget', ({ sessionId }) => this.#threads.delete(sessionId));
    devtools.on('Target.receivedMessageFromTarget', ({ message }) => {
      const { id, result } = JSON.parse(message) as { id?: number; result?: object };
      if (id !== undefined) this.#waiting.get(id)?.(result ?? null);
    });
  }

  static async of(page: Page): Promise<PageMemory> {
    const memory = new PageMemory(await page.context().newCDPSession(page), await page.context().browser()!.newBrowserCDPSession());
    await memory.devtools.send('Target.setAutoAttach', { autoAttach: true, waitForDebuggerOnStart: false, flatten: false });
    return memory;
  }

  /** Where the renderer has it, by Chromium's own account. */
  async whereOfRenderer(): Promise<Record<string, number>> {
    return whereMemory(this.browser, await this.#renderer());
  }

  /** What the heaps have in use; and which process they are in, for when nobody looks at it any more. */
  async read(): Promise<{ heaps: Record<string, number>; renderer: number }> {
    await this.devtools.send('HeapProfiler.collectGarbage');
    const read: Record<string, number> = { page: inUse(await this.devtools.send('Runtime.getHeapUsage')), workers: 0, worklets: 0 };
    for (const [session, kind] of this.#threads) {
      // What a worker has thrown away it collects late, and what that holds outside its heap is the renderer's. A worklet must not stand still.
      if (kind !== 'worklet') await this.#ask(session, 'HeapProfiler.collectGarbage');
      const usage = (await this.#ask(session, 'Runtime.getHeapUsage')) as Usage | null;
      if (usage) read[kind === 'worklet' ? 'worklets' : 'workers'] += inUse(usage);
    }
    return { heaps: read, renderer: await this.#renderer() };
  }

  /** Process of the page: the busiest of its kind. */
  async #renderer(): Promise<number> {
    const { processInfo } = (await this.browser.send('SystemInfo.getProcessInfo')) as { processInfo: { type: string; id: number; cpuTime: number }[] };
    return processInfo.filter(({ type }) => type === 'renderer').sort((a, b) => b.cpuTime - a.cpuTime)[0].id;
  }

  #ask(sessionId: string, method: string): Promise<object | null> {
    const id = ++this.#next;
    return new Promise((resolve) => {
      const done = (answer: object | null) => {
        clearTimeout(timer);
        this.#waiting.delete(id);
        resolve(answer);
      };
      const timer = setTimeout(done, ANSWER_MS, null);
      this.#waiting.set(id, done);
      void this.devtools.send('Target.sendMessageToTarget', { sessionId, message: JSON.stringify({ id, method }) }).catch(() => done(null));
    });
  }
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
