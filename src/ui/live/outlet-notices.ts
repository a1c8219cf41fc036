import type { HearingPlan } from '@/core/hearing/plan';
import type { DeskSession } from '@/live/desk/desk-session';
import type { OutletView } from '@/live/devices/plugged-state';
import { carriesNothing, mixTitle, outletMixes } from '../devices/outlet-words';
import type { Notice } from './notice';

/** Outlets of the program and the feeds by which nothing leaves, as long as that is so. */
export function outletNotices(desk: DeskSession, plan: HearingPlan, outlets: Record<string, OutletView>): Notice[] {
  const mixes = outletMixes(plan);
  return Object.entries(outlets)
    .filter(([, outlet]) => carriesNothing(outlet) && mixes.some(({ id }) => id === outlet.choice.listener))
    .map(([id, { choice, state, label, reason }]): Notice => {
      const mix = mixTitle(plan, choice.listener);
      const key = `outlet-${id}`;
      if (state === 'blocked') return { key, urgent: true, words: `${mix} does not leave by “${label}” yet: the browser keeps it shut until you press a button.`, action: { label: 'Let it out', run: () => void desk.devices.resume() } };
      if (state === 'refused') return { key, urgent: true, words: `${mix} does not leave by “${label}”: ${reason}` };
      return { key, urgent: true, words: `${mix} does not leave: “${label}” is away. It is closed and plays nowhere else; it opens by itself when the device is back.` };
    });
}
