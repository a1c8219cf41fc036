import { describe, expect, it, vi } from 'vitest';
import type { SourceId } from '@/core/hearing/ids';
import { observeCoupling } from '@/core/hearing/observation';
import type { DeskSession } from '@/live/desk/desk-session';
import type { EchoSeen } from '@/live/echo/echo-state';
import type { LineView } from '@/live/lines/line-view';
import { deskData } from '@/live/testing/desk-data';
import { echoNotices, saidByEchoes } from './echo-notices';

const { seats } = deskData();
const echo = (change: Partial<EchoSeen> = {}): EchoSeen => ({ delayMs: 151.4, levelDb: -20, certainty: 20, sinceMs: 0, history: [], ...change });
const levels = (...all: number[]) => all.map((levelDb, k) => ({ atMs: 5000 * k, levelDb }));

function noticesOf(echoes: Record<string, EchoSeen>, echoCancellation = false, cancelling: SourceId[] = []) {
  const asking = { forHeadphones: vi.fn(), cancelEcho: vi.fn() };
  const cancels = { start: vi.fn(), stop: vi.fn() };
  const lines = { runa: { status: { echoCancellation } } as LineView };
  return { notices: echoNotices({ asking, cancels } as unknown as DeskSession, { seats, lines, echoes, cancelling }), asking, cancels };
}

describe('who sends the others back', () => {
  it('is said in a sentence with what ends it', () => {
    const { notices, asking, cancels } = noticesOf({ 'voice:runa': echo() });
    expect(notices).toMatchObject([{ urgent: true, words: 'runa sits at loudspeakers: the others hear themselves 151 ms late at −20 dB.' }]);
    notices[0].action!.run();
    notices[0].more!.run();
    notices[0].also![0].run();
    expect([asking.forHeadphones.mock.calls, cancels.start.mock.calls, asking.cancelEcho.mock.calls]).toEqual([[['runa']], [['voice:runa']], [['runa']]]);
    expect(noticesOf({ 'voice:runa': echo() }, true).notices[0]).toMatchObject({ also: [{ label: 'Send them less' }], words: expect.stringContaining('cancels already') as string });
  });

  it('ends for a practice caller when the plan gives them headphones', () => {
    const desk = { mend: vi.fn(), store: { getState: () => ({ plan: deskData().plan }) } };
    const practised = seats.map((seat) => (seat.id === 'priya' ? { ...seat, practice: { voice: 'priya', loudspeakers: true, network: 'good' as const } } : seat));
    const [{ action, also }] = echoNotices(desk as unknown as DeskSession, { seats: practised, lines: {}, echoes: { 'voice:priya': echo() }, cancelling: [] });
    expect([action!.label, also!.map(({ label }) => label)]).toEqual(['Give them headphones', ['Send them less']]);
    action!.run();
    expect(desk.mend).toHaveBeenCalledWith(expect.objectContaining({ changes: [{ type: 'remove-coupling', id: 'loudspeakers/ears:priya/voice:priya' }] }));
  });

  it('is no alarm while it is cancelled here, heard or not', () => {
    const { notices, cancels } = noticesOf({ 'voice:runa': echo() }, false, ['voice:runa']);
    expect(notices).toMatchObject([{ urgent: false, words: expect.stringContaining('It is cancelled here') as string, action: { label: 'Stop cancelling' } }]);
    notices[0].action!.run();
    expect(cancels.stop).toHaveBeenCalledWith('voice:runa');
    expect(noticesOf({}, false, ['voice:runa']).notices).toMatchObject([{ urgent: false }]);
  });

  it('is a leak where it is weak, and a program where it is as loud as it was sent', () => {
    const words = (levelDb: number | null, of = 'runa') => noticesOf({ [`voice:${of}`]: echo({ levelDb }) }).notices[0];
    expect(words(-44)).toMatchObject({ urgent: false, words: expect.stringContaining('headphones leak a little') as string });
    expect(words(-3).words).toContain('sends everything back');
    expect(words(null)).toMatchObject({ urgent: true, words: 'runa sits at loudspeakers: the others hear themselves 151 ms late.' });
    expect(words(-25, 'maren').words).toContain('Your microphone hears your loudspeakers');
  });

  it('gets louder or quieter only by what is heard, over twenty seconds', () => {
    const trend = (...all: number[]) => noticesOf({ 'voice:runa': echo({ history: levels(...all) }) }).notices[0].words;
    expect(trend(-30, -29, -28, -26)).toContain('It gets louder.');
    expect(trend(-20, -24)).toContain('It gets quieter.');
    expect(trend(-20, -40, -40, -40, -40, -40, -40)).not.toContain('It gets');
  });

  it('is not said twice by the audit, and only what the watch itself saw is left out there', () => {
    const way = { kind: 'loudspeakers', from: 'ears:runa', to: 'voice:runa', gainDb: -20, delayMs: 150 } as const;
    const [seen, noted] = (['the echo watch', 'the line check'] as const).map((by) => observeCoupling(way, by, new Date(0)));
    expect([...saidByEchoes([seen], {})]).toEqual([`echo/${seen.coupling.id}`]);
    expect(saidByEchoes([noted], {}).size).toBe(0);
    expect([...saidByEchoes([], { 'voice:runa': echo({ levelDb: null }) })], 'before its level is known').toEqual([`echo/${seen.coupling.id}`]);
  });
});
