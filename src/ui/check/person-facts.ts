import { LOUDSPEAKER_DB } from '@/core/echo/echo-kind';
import { phonesOf, returnOf, voiceOf } from '@/core/hearing/ids';
import type { Seat } from '@/core/hearing/plan';
import type { LineCheck } from '@/core/linecheck/line-check';
import type { AskedAbout } from '@/core/lines/check-messages';
import type { Judged } from '@/core/measure/voice-judgement';
import type { OneCheck, SeatAnswers } from '@/live/check/check-state';
import type { LineView } from '@/live/lines/line-view';
import { formatDb } from '../format';

/** Delay one way at which people begin to talk into each other, ms. */
const LATE_MS = 200;
/** Lost or made up, as a share and as ms of a second. */
const LOSS = 0.01;
const MADE_UP_MS = 40;

const good = (words: string): Judged => ({ words, tone: 'good', advice: null });
const unknown = (words: string): Judged => ({ words, tone: 'unknown', advice: null });

/** What reaches somebody's ears. */
export const earOf = ({ role, id }: Pick<Seat, 'role' | 'id'>) => (role === 'host' ? phonesOf(id) : returnOf(id));

/** Whether what somebody hears comes back by their own microphone, and what says so. */
export function judgeHeadphones(seat: Seat, check: LineCheck | null, line: LineView | undefined, alone: OneCheck | undefined): Judged {
  const own = earOf(seat);
  if (alone) {
    const [way] = alone.ways.filter(({ to }) => to === voiceOf(seat.id));
    return way ? leak(way.gainDb, way.delayMs) : alone.floorDb > LOUDSPEAKER_DB ? unknown('too loud to tell') : good('nothing leaks');
  }
  const way = check?.waysBack.find(({ from, to }) => from === own && to === voiceOf(seat.id));
  if (way) return leak(way.gainDb, way.delayMs);
  const status = line?.status;
  if (status?.tested && status.echoDb !== null && !status.echoCancellation) return leak(status.echoDb, status.echoDelayMs ?? 0);
  const input = check?.inputs.find(({ source }) => source === voiceOf(seat.id));
  if (input && input.floorDb !== null && input.floorDb > LOUDSPEAKER_DB) return unknown('too loud to tell');
  if (input || status?.tested) return good('nothing leaks');
  return unknown('not measured');
}

function leak(gainDb: number, delayMs: number): Judged {
  const numbers = `${formatDb(gainDb)}, ${Math.round(delayMs)} ms`;
  if (gainDb > LOUDSPEAKER_DB) return { words: `loudspeakers ${numbers}`, tone: 'bad', advice: 'headphones' };
  return { words: `leaks a little ${numbers}`, tone: 'attention', advice: 'closed headphones help' };
}

/** How a line does, both ways. */
export function judgeLine(seat: Seat, line: LineView | undefined): Judged {
  if (seat.role === 'host') return unknown('at the desk');
  const toDesk = line?.report?.toDesk;
  if (!toDesk) return unknown(seat.line === 'practice' ? 'made up' : line?.state === 'live' || line?.state === 'waiting' ? 'not known yet' : 'not in the call');
  const delays = [toDesk.delayMs, line.report?.toGuest?.delayMs ?? null].filter((ms) => ms !== null);
  const worst = Math.max(0, ...delays);
  const parts = [`${Math.round(worst)} ms`];
  if (toDesk.lossShare > LOSS) parts.push(`${(100 * toDesk.lossShare).toFixed(1)} % lost`);
  if (toDesk.concealedMs > MADE_UP_MS) parts.push(`${Math.round(toDesk.concealedMs)} ms a second made up`);
  const tone = parts.length > 1 || worst > LATE_MS ? 'attention' : 'good';
  return { words: parts.join(' · '), tone, advice: null };
}

/** What somebody says they hear; `self` should be no. */
export function judgeAnswers(answers: SeatAnswers | undefined, host: string): Judged {
  const says = answers?.says ?? {};
  if (Object.keys(says).length === 0) return unknown(answers?.asked ? 'asked' : 'not asked yet');
  if (says.self) return { words: 'hears themselves', tone: 'bad', advice: 'see what was found' };
  const misses = (about: AskedAbout, what: string) => (says[about] === false ? [what] : []);
  const missing = [...misses('host', host), ...misses('sounds', 'the music')];
  if (missing.length > 0) return { words: `does not hear ${missing.join(', ')}`, tone: 'bad', advice: 'see the crosspoints' };
  const hears = [says.host ? host : '', says.sounds ? 'music' : '', says.self === false ? 'not themselves' : ''].filter(Boolean);
  return good(`hears ${hears.join(', ')}`);
}
