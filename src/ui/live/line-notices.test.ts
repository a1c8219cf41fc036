import { describe, expect, it, vi } from 'vitest';
import type { HearingPlan } from '@/core/hearing/plan';
import type { LineReport } from '@/core/lines/line-report';
import type { GuestStatus } from '@/core/lines/messages';
import type { NetworkFound } from '@/core/lines/network';
import type { DeskSession } from '@/live/desk/desk-session';
import type { LineView } from '@/live/lines/line-view';
import { deskData } from '@/live/testing/desk-data';
import { lineNotices } from './line-notices';

const { seats, plan } = deskData();
const fine: LineView = { state: 'live', sinceMs: 0, here: true, muted: false, status: null, report: null, history: [] };
const second = (concealedMs: number) => ({ atMs: 0, report: { toDesk: { concealedMs } } as LineReport });

function noticesOf(line: Partial<LineView>, using: HearingPlan = plan) {
  const setWaiting = vi.fn();
  const desk = { plan: { setWaiting } } as unknown as DeskSession;
  return { notices: lineNotices(desk, seats, { runa: { ...fine, ...line } }, using), setWaiting };
}

describe('what the links need of the host', () => {
  it('is nothing while all is well, and of practice callers never', () => {
    expect(noticesOf({ history: Array.from({ length: 20 }, () => second(20)) }).notices).toEqual([]);
  });

  it('is to let in who waits, and only as long as the plan has them wait', () => {
    const { notices, setWaiting } = noticesOf({ state: 'waiting' }, { ...plan, waiting: ['runa'] });
    expect(notices).toMatchObject([{ urgent: false, words: 'runa is ready and waits.', action: { name: 'Bring runa into the call' } }]);
    notices[0].action!.run();
    expect(setWaiting).toHaveBeenCalledWith('runa', false);
    expect(noticesOf({ state: 'waiting' }).notices).toEqual([]);
  });

  it('is urgent when somebody is lost, and says whether they can come back by themselves', () => {
    expect(noticesOf({ state: 'lost' }).notices[0]).toMatchObject({ urgent: true, words: expect.stringContaining('tries to come back') as string });
    expect(noticesOf({ state: 'lost', here: false }).notices[0].words).toContain('their link brings them back');
  });

  it('is a network that lets no call through, until one comes about all the same', () => {
    const found = (network: NetworkFound) => ({ status: { network } as GuestStatus });
    expect(noticesOf({ state: 'checking', ...found({ direct: false, relay: false }) }).notices).toMatchObject([{ urgent: true, words: expect.stringContaining('not even by the relay') as string }]);
    expect(noticesOf({ state: 'waiting', ...found({ direct: false, relay: null }) }).notices[0].words).toContain('there is no relay here');
    const fine: NetworkFound[] = [{ direct: false, relay: true }, { direct: true, relay: false }, { direct: true, relay: null }, { direct: null, relay: null }];
    for (const network of fine) expect(noticesOf({ state: 'checking', ...found(network) }).notices).toEqual([]);
    expect(noticesOf({ state: 'live', report: second(0).report, ...found({ direct: false, relay: false }) }).notices).toEqual([]);
    expect(noticesOf({ state: 'left', here: false, ...found({ direct: false, relay: false }) }).notices).toEqual([]);
  });

  it('is a weak network when sound was made up in half of the last eight seconds, and not before there were eight', () => {
    const history = [...Array.from({ length: 30 }, () => second(500)), ...Array.from({ length: 8 }, (_, k) => second(k % 2 === 0 ? 61 : 60))];
    expect(noticesOf({ history }).notices).toMatchObject([{ urgent: false, words: expect.stringContaining('in 4 of the last 8 seconds') as string }]);
    expect(noticesOf({ history: [...history, second(60)] }).notices.length).toBe(0);
    expect(noticesOf({ history: history.slice(0, 7) }).notices).toEqual([]);
    expect(noticesOf({ history, state: 'lost' }).notices.map(({ key }) => key)).toEqual(['lost-runa']);
  });
});
