import type { Devtools } from './devtools';

const MB = 2 ** 20;
/** Parts smaller than this are not listed, MB. */
const WORTH_SAYING = 0.5;
const MOST_DEEP = 3;
/** Every process counts what it has. */
const WITHIN_MS = 40_000;

/** What Chromium says of its memory: of each process, the size of each allocator and its parts, in hexadecimal bytes. */
interface MemoryDump {
  ph: string;
  pid: number;
  args: { dumps?: { allocators?: Record<string, { attrs?: { size?: { value: string } } }> } };
}

/**
 * Where a process of the browser has its memory, MB by allocator and its parts, by Chromium's own account ("memory-infra").
 * Made for a renderer that grows outside its JavaScript heaps.
 */
export async function whereMemory(browser: Devtools, pid: number): Promise<Record<string, number>> {
  const ended = new Promise<string>((resolve) => browser.hear('Tracing.tracingComplete', ({ stream }) => resolve(stream as string)));
  await browser.ask('Tracing.start', { transferMode: 'ReturnAsStream', traceConfig: { includedCategories: ['disabled-by-default-memory-infra'], excludedCategories: ['*'], memoryDumpConfig: {} } });
  await browser.ask('Tracing.requestMemoryDump', { deterministic: false, levelOfDetail: 'detailed' }, undefined, WITHIN_MS);
  await browser.ask('Tracing.end');
  const handle = await ended;
  let words = '';
  for (let eof = false; !eof; ) {
    const read = (await browser.ask('IO.read', { handle }, undefined, WITHIN_MS)) as { data: string; eof: boolean } | null;
    if (!read) return {};
    words += read.data;
    eof = read.eof;
  }
  await browser.ask('IO.close', { handle });
  const sums: Record<string, number> = {};
  for (const event of (JSON.parse(words) as { traceEvents: MemoryDump[] }).traceEvents) {
    if (event.pid !== pid || event.ph !== 'v') continue;
    for (const [name, { attrs }] of Object.entries(event.args.dumps?.allocators ?? {})) {
      if (name.split('/').length <= MOST_DEEP && attrs?.size) sums[name] = (sums[name] ?? 0) + parseInt(attrs.size.value, 16) / MB;
    }
  }
  return Object.fromEntries(Object.entries(sums).filter(([, mb]) => mb >= WORTH_SAYING).sort((a, b) => b[1] - a[1]).map(([name, mb]) => [name, Math.round(10 * mb) / 10]));
}
