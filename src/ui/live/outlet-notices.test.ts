import { describe, expect, it, vi } from 'vitest';
import type { OutletView } from '@/live/devices/plugged-state';
import type { DeskSession } from '@/live/desk/desk-session';
import { deskData } from '@/live/testing/desk-data';
import { outletNotices } from './outlet-notices';

const plan = { ...deskData().plan, feeds: [{ id: 'stage', name: 'Stage', without: [] }] };
const outlet = (id: string, listener: string, state: OutletView['state']) => ({ choice: { id, listener, device: 'd', channels: 'stereo', offsetMs: 0 }, state, label: 'Stream cable', reason: 'Another program holds it.' }) as unknown as OutletView;

function noticesOf(...views: OutletView[]) {
  const resume = vi.fn(() => Promise.resolve());
  const desk = { devices: { resume } } as unknown as DeskSession;
  const outlets = Object.fromEntries(views.map((view) => [view.choice.id, view]));
  return { notices: outletNotices(desk, plan, outlets), resume };
}

describe('what the outlets need of the host', () => {
  it('is nothing while every mix leaves, and the phones and returns of lines are said elsewhere', () => {
    expect(noticesOf(outlet('a', 'program', 'open'), outlet('b', 'program', 'opening'), outlet('phones', 'phones:host', 'away'), outlet('line:runa', 'return:runa', 'away')).notices).toEqual([]);
  });

  it('is a mix that does not leave, by its name and with the reason', () => {
    const { notices } = noticesOf(outlet('a', 'program', 'away'), outlet('b', 'feed:stage', 'refused'));
    expect(notices.map(({ words }) => words)).toEqual([
      'The program does not leave: “Stream cable” is away. It is closed and plays nowhere else; it opens by itself when the device is back.',
      expect.stringMatching(/Stage.* does not leave by “Stream cable”: Another program holds it\./) as string,
    ]);
    expect(notices.every(({ urgent }) => urgent)).toBe(true);
  });

  it('is a press, where the browser waits for one', () => {
    const { notices, resume } = noticesOf(outlet('a', 'program', 'blocked'));
    notices[0].action!.run();
    expect(resume).toHaveBeenCalled();
  });
});
