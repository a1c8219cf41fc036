import { describe, expect, it, vi } from 'vitest';
import { voiceOf } from '@/core/hearing/ids';
import type { DeskSession } from '@/live/desk/desk-session';
import type { DeskState } from '@/live/desk/desk-state';
import { initialDeskState } from '@/live/desk/initial-desk-state';
import type { LineView } from '@/live/lines/line-view';
import { deskData } from '@/live/testing/desk-data';
import { watchOf } from './notices';

const line: LineView = { state: 'live', sinceMs: 0, here: true, muted: false, status: null, report: null, history: [] };
const measured = (kbps: number): LineView['report'] => ({ roundTripMs: 20, toDesk: { delayMs: kbps, bufferMs: 20, lossShare: 0, jitterMs: 1, concealedMs: 0, kbps }, toGuest: null });
const echo = { delayMs: 180.2, levelDb: -24.1, certainty: 0.9, sinceMs: 0, history: [] };

function watched() {
  const begun: DeskState = { ...initialDeskState(deskData()), call: 'running', lines: { runa: line }, echoes: { [voiceOf('runa')]: echo }, conditions: [{ key: 'pad', words: 'A pad is missing.' }] };
  const desk = { dismiss: vi.fn(), mend: vi.fn() };
  return { begun, desk, watch: watchOf(desk as unknown as DeskSession) };
}

describe('what the watch says', () => {
  it('is the very same while only measurements move, and nothing of it is drawn again', () => {
    const { begun, watch } = watched();
    const said = watch(begun);
    expect(said.map(({ key }) => key)).toEqual(expect.arrayContaining(['condition-pad', 'echo-runa']));
    const moved: Partial<DeskState>[] = [
      { lines: { runa: { ...line, report: measured(48) } } },
      { lines: { runa: { ...line, report: measured(47) } }, echoes: { [voiceOf('runa')]: { ...echo, delayMs: 180.3, levelDb: -24, certainty: 0.95 } } },
      { space: { here: 5e9, server: 7e9 } },
    ];
    for (const change of moved) expect(watch({ ...begun, ...change })).toBe(said);
  });

  it('is another as soon as a host would read something else', () => {
    const { begun, watch } = watched();
    const said = watch(begun);
    const changes: Partial<DeskState>[] = [
      { conditions: [] },
      { lines: { runa: { ...line, state: 'lost' } } },
      { echoes: {} },
      { echoes: { [voiceOf('runa')]: { ...echo, levelDb: -18 } } },
      { cancelling: [voiceOf('runa')] },
      { planSaving: 'failed' },
      { openTake: { id: 't', number: 3, kept: { phase: 'sent', lengthSamples: 48_000 } } },
    ];
    for (const change of changes) {
      const now = watch({ ...begun, ...change });
      expect(now, Object.keys(change).join()).not.toBe(said);
      expect(now.map(({ words }) => words)).not.toEqual(said.map(({ words }) => words));
    }
  });

  it('does what fits the plan in force: the same words of another plan have other actions', () => {
    const { begun, desk, watch } = watched();
    const finding = (fix: object) => ({ ...begun.audit, findings: [{ key: 'own-voice/runa', mistake: 'own-voice', urgent: true, noted: false, sentence: 'Runa hears herself.', fixes: [{ label: 'Take it out', changes: [], ...fix }] }] }) as unknown as DeskState['audit'];
    watch({ ...begun, audit: finding({ number: 1 }) });
    const now = watch({ ...begun, audit: finding({ number: 2 }) });
    now.find(({ key }) => key === 'own-voice/runa')!.action!.run();
    expect(desk.mend).toHaveBeenCalledWith(expect.objectContaining({ number: 2 }));
  });
});
