import { LOUDSPEAKER_DB, SENT_BACK_DB } from '@/core/echo/echo-kind';
import { fixesFor } from '@/core/hearing/audit/mistakes';
import { declareCoupling } from '@/core/hearing/coupling';
import { earsOf, nameInId, returnOf, voiceOf, type SourceId } from '@/core/hearing/ids';
import type { Observation } from '@/core/hearing/observation';
import { listenerSettings } from '@/core/hearing/plan';
import type { DeskSeat } from '@/core/session/desk-data';
import type { DeskSession } from '@/live/desk/desk-session';
import type { DeskState } from '@/live/desk/desk-state';
import { trendOf, type EchoSeen } from '@/live/echo/echo-state';
import { formatDb } from '../format';
import type { Notice } from './notice';

/** *Send them less*, dB. */
const LESS_DB = 6;

const TRENDS = { louder: ' It gets louder.', quieter: ' It gets quieter.', steady: '' };

/** What comes back, who it comes from and why, in a sentence. */
export function echoInWords({ name, role }: Pick<DeskSeat, 'name' | 'role'>, echo: EchoSeen): string {
  const late = `${Math.round(echo.delayMs)} ms late`;
  const level = echo.levelDb === null ? '' : ` at ${formatDb(echo.levelDb)}`;
  const trend = TRENDS[trendOf(echo)];
  const weak = echo.levelDb !== null && echo.levelDb < LOUDSPEAKER_DB;
  if (role === 'host') return `Your microphone hears your ${weak ? 'headphones, a little' : 'loudspeakers, or open headphones'}: the others come back ${late}${level}.${trend}`;
  if (echo.levelDb !== null && echo.levelDb > SENT_BACK_DB) return `The program at ${name}’s end sends everything back: the others hear themselves ${late}${level}.${trend}`;
  return `${weak ? `${name}’s headphones leak a little` : `${name} sits at loudspeakers`}: the others hear themselves ${late}${level}.${trend}`;
}

/** Who sends the others back to themselves, and what ends it. */
export function echoNotices(desk: DeskSession, { seats, lines, echoes, cancelling }: Pick<DeskState, 'seats' | 'lines' | 'echoes' | 'cancelling'>): Notice[] {
  return seats.flatMap((seat): Notice[] => {
    const { id, name, line, role, practice } = seat;
    const source = voiceOf(id);
    const echo = echoes[source];
    const key = `echo-${id}`;
    if (cancelling.includes(source)) {
      const words = echo ? `${echoInWords(seat, echo)} It is cancelled here, in every mix; the track keeps it.` : `${name}’s echo is cancelled here, and nothing of it was heard lately.`;
      return [{ key, urgent: false, words, action: { label: 'Stop cancelling', name: `Stop cancelling the echo of ${name}`, run: () => desk.cancels.stop(source) } }];
    }
    if (!echo) return [];
    const urgent = echo.levelDb === null || echo.levelDb >= LOUDSPEAKER_DB;
    const words = echoInWords(seat, echo);
    const here = { label: 'Cancel it here', name: `Cancel the echo of ${name} here`, run: () => desk.cancels.start(source) };
    if (role === 'host') return [{ key, urgent, words, action: here }];
    const less = { label: 'Send them less', name: `Send ${name} 6 dB less`, run: () => sendLess(desk, id) };
    if (practice) return [{ key, urgent, words, action: { label: 'Give them headphones', name: `Give ${name} headphones`, run: () => giveHeadphones(desk, id) }, more: here, also: [less] }];
    if (line !== 'link') return [{ key, urgent, words, action: here, more: less }];
    const cancels = lines[id]?.status?.echoCancellation ?? false;
    return [
      {
        key,
        urgent,
        words: cancels ? `${words} Their browser cancels already.` : words,
        action: { label: 'Ask for headphones', name: `Ask ${name} for headphones`, run: () => desk.asking.forHeadphones(id) },
        more: here,
        also: [...(cancels ? [] : [{ label: 'Let their browser cancel', name: `Let the browser of ${name} cancel`, run: () => desk.asking.cancelEcho(id) }]), less],
      },
    ];
  });
}

/** A practice caller sits as the plan says they sit: what the audit would do ends it. */
function giveHeadphones(desk: DeskSession, seat: string): void {
  const [fix] = fixesFor(desk.store.getState().plan, declareCoupling('loudspeakers', earsOf(seat), voiceOf(seat)));
  desk.mend(fix);
}

/** What comes back is as much quieter as what is sent. */
function sendLess(desk: DeskSession, seat: string): void {
  const listener = returnOf(seat);
  const { levelDb } = listenerSettings(desk.store.getState().plan, listener);
  desk.plan.apply([{ type: 'listener', listener, settings: { levelDb: levelDb - LESS_DB } }]);
}

/** Findings of the audit that say the same again, also while it is not yet known how loud it is. */
export function saidByEchoes(observations: readonly Observation[], echoes: DeskState['echoes']): Set<string> {
  const measured = observations.flatMap((one) => (one.of === 'coupling' && one.by === 'the echo watch' ? [one.coupling.id] : []));
  const seen = Object.keys(echoes).map((source) => declareCoupling('loudspeakers', earsOf(nameInId(source as SourceId)), source as SourceId).id);
  return new Set([...measured, ...seen].map((id) => `echo/${id}`));
}
