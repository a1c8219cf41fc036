import type { HearingPlan } from '@/core/hearing/plan';
import { letsThrough } from '@/core/lines/network';
import type { DeskSeat } from '@/core/session/desk-data';
import type { DeskSession } from '@/live/desk/desk-session';
import type { LineView } from '@/live/lines/line-view';
import type { Notice } from './notice';

/** Concealment that is heard, ms of a second. */
const HEARD_MS = 60;
/** Seconds over which a weak line is judged. */
const LOOK_BACK = 8;

/** What the links need of the host: who waits, who is lost, whose network is weak. */
export function lineNotices(desk: DeskSession, seats: readonly DeskSeat[], lines: Record<string, LineView>, plan: HearingPlan): Notice[] {
  return seats.flatMap((seat): Notice[] => {
    const line = lines[seat.id];
    if (!line) return [];
    return [whoWaits(desk, seat, line, plan), whoIsLost(seat, line), shutOut(seat, line), weak(seat, line)].filter((notice) => notice !== null);
  });
}

function whoWaits(desk: DeskSession, seat: DeskSeat, line: LineView, plan: HearingPlan): Notice | null {
  if (line.state !== 'waiting' || !plan.waiting.includes(seat.id)) return null;
  return {
    key: `waits-${seat.id}`,
    urgent: false,
    words: `${seat.name} is ready and waits.`,
    action: { label: 'Bring up', name: `Bring ${seat.name} into the call`, run: () => desk.plan.setWaiting(seat.id, false) },
  };
}

function whoIsLost(seat: DeskSeat, line: LineView): Notice | null {
  if (line.state === 'away' || line.state === 'refused') return { key: `away-${seat.id}`, urgent: true, words: `${seat.name}’s device is away. The track holds silence meanwhile; it is taken up by itself when the device is back.` };
  if (line.state === 'lost' && seat.line === 'pair') return { key: `lost-${seat.id}`, urgent: true, words: `Nothing comes by ${seat.name}’s device any more: another program may have taken it, or its driver stopped. The track holds silence meanwhile.` };
  if (line.state !== 'lost') return null;
  const where = line.here ? 'Their page is open and tries to come back.' : 'Their page is closed; their link brings them back.';
  return { key: `lost-${seat.id}`, urgent: true, words: `The connection to ${seat.name} is lost. ${where} The track holds silence meanwhile.` };
}

/** Found out by their own page, before anybody waits for them in vain. */
function shutOut(seat: DeskSeat, { here, report, status }: LineView): Notice | null {
  if (!here || report !== null || !status?.network || letsThrough(status.network) !== 'no') return null;
  const relay = status.network.relay === null ? 'not directly, and there is no relay here, see Reach in Show settings' : 'not even by the relay';
  return { key: `shut-out-${seat.id}`, urgent: true, words: `${seat.name}’s page tried its network, and no call came through: ${relay}. Another network helps, such as their phone’s; their page says so too.` };
}

function weak(seat: DeskSeat, line: LineView): Notice | null {
  const recent = line.history.slice(-LOOK_BACK);
  const heard = recent.filter(({ report }) => (report.toDesk?.concealedMs ?? 0) > HEARD_MS).length;
  if (line.state === 'lost' || recent.length < LOOK_BACK || heard < LOOK_BACK / 2) return null;
  return { key: `weak-${seat.id}`, urgent: false, words: `${seat.name}’s network is weak: sound had to be made up in ${heard} of the last ${LOOK_BACK} seconds.` };
}
