import type { CDPSession } from '@playwright/test';

const MB = 2 ** 20;
/** Parts smaller than this are not listed, MB. */
const WORTH_SAYING = 0.5;

/** What Chromium says of its memory: of each process, the size of each allocator and its parts, in hexadecimal bytes. */
interface MemoryDump {
  ph: string;
  pid: number;
  args: { dumps?: { process_totals?: Record<string, string>; allocators?: Record<string, { attrs?: Record<string, { value: string }> }> } };
}

/**
 * Where a process of the browser has its memory, MB by allocator (two names deep), by Chromium's own account ("memory-infra").
 * Made for a renderer that grows outside its JavaScript heaps.
 */
export async function whereMemory(browser: CDPSession, pid: number): Promise<Record<string, number>> {
  await browser.send('Tracing.start', { transferMode: 'ReturnAsStream', traceConfig: { includedCategories: ['disabled-by-default-memory-infra'], excludedCategories: ['*'], memoryDumpConfig: {} } });
  await browser.send('Tracing.requestMemoryDump', { deterministic: false, levelOfDetail: 'detailed' });
  const ended = new Promise<string>((resolve) => browser.once('Tracing.tracingComplete', ({ stream }) => resolve(stream!)));
  await browser.send('Tracing.end');
  const handle = await ended;
  let words = '';
  for (;;) {
    const { data, eof } = await browser.send('IO.read', { handle });
    words += data;
    if (eof) break;
  }
  await browser.send('IO.close', { handle });
  const { traceEvents } = JSON.parse(words) as { traceEvents: MemoryDump[] };
  const sums: Record<string, number> = {};
  for (const event of traceEvents) {
    if (event.pid !== pid || event.ph !== 'v') continue;
    for (const [name, { attrs }] of Object.entries(event.args.dumps?.allocators ?? {})) {
      const depth = name.split('/').length;
      if (depth > 3 || !attrs?.size) continue;
      sums[name] = (sums[name] ?? 0) + parseInt(attrs.size.value, 16) / MB;
    }
  }
  return Object.fromEntries(Object.entries(sums).filter(([, mb]) => mb >= WORTH_SAYING).sort((a, b) => b[1] - a[1]).map(([name, mb]) => [name, Math.round(10 * mb) / 10]));
}
