import { earsOf, voiceOf, type SeatId } from '@/core/hearing/ids';
import { observeCoupling, type Observation, type ObservedCoupling } from '@/core/hearing/observation';
import type { LineView } from '../lines/line-view';

const BY = 'the headphones test';

/** What the guests' own headphones tests say of the ways back to them, and which of what is known no longer holds. */
export function observeHeadphones(lines: Record<SeatId, LineView>, known: readonly Observation[]): { newer: ObservedCoupling[]; outdated(one: Observation): boolean } {
  const newer: ObservedCoupling[] = [];
  const quiet = new Set<string>();
  for (const [seat, { status }] of Object.entries(lines)) {
    if (!status) continue;
    const way = { kind: 'loudspeakers', from: earsOf(seat), to: voiceOf(seat) } as const;
    if (status.echoDb === null || status.echoCancellation) {
      quiet.add(way.to);
      continue;
    }
    const measured = observeCoupling({ ...way, gainDb: Math.min(0, status.echoDb), delayMs: status.echoDelayMs ?? 0 }, BY, new Date());
    const same = known.some((one) => one.of === 'coupling' && one.coupling.id === measured.coupling.id && one.coupling.gainDb === measured.coupling.gainDb && one.coupling.delayMs === measured.coupling.delayMs);
    if (!same) newer.push(measured);
  }
  return { newer, outdated: (one) => one.of === 'coupling' && one.by === BY && quiet.has(one.coupling.to) };
}
