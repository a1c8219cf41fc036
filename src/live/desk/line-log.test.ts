import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { LineReport } from '@/core/lines/line-report';
import { LineLog } from './line-log';

const report = { toDesk: null, toGuest: null } as unknown as LineReport;

describe('what is measured of the lines in a take', () => {
  const sent: { url: string; samples: number[] }[] = [];
  let takes = true;

  beforeEach(() => {
    vi.useFakeTimers();
    sent.length = 0;
    takes = true;
    vi.stubGlobal('fetch', (url: string, { body }: { body: string }) => {
      sent.push({ url, samples: (JSON.parse(body) as { reports: { atSample: number }[] }).reports.map(({ atSample }) => atSample) });
      return Promise.resolve(takes ? Response.json({}) : Response.json({ code: 'busy', message: 'Later.' }, { status: 503 }));
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it('goes to the server with the next when it was not taken, in order, and never to another take', async () => {
    const log = new LineLog();
    log.begin('first');
    log.add({ seat: 'runa', atSample: 1, report });
    takes = false;
    await vi.advanceTimersByTimeAsync(10_000);
    log.add({ seat: 'runa', atSample: 2, report });
    log.end();
    await vi.advanceTimersByTimeAsync(0);
    expect(sent).toEqual([{ url: '/api/takes/first/lines', samples: [1] }, { url: '/api/takes/first/lines', samples: [1, 2] }]);
    takes = true;
    log.begin('second');
    log.add({ seat: 'runa', atSample: 3, report });
    await vi.advanceTimersByTimeAsync(10_000);
    expect(sent.at(-1)).toEqual({ url: '/api/takes/second/lines', samples: [3] });
    log.end();
    await vi.advanceTimersByTimeAsync(60_000);
    expect([sent.length, vi.getTimerCount()]).toEqual([3, 0]);
  });
});
