import type { ListenerId } from '@/core/hearing/ids';
import { listenerName } from '@/core/hearing/names';
import { listenersOf, type HearingPlan, type Listener } from '@/core/hearing/plan';
import type { OutletState } from '@/live/devices/outlet';
import type { OutletView, PluggedState } from '@/live/devices/plugged-state';

export const OUTLET_WORDS: Record<OutletState, string> = {
  closed: 'closed',
  opening: 'opening',
  open: 'open',
  away: 'away: closed, and plays nowhere else',
  blocked: 'the browser wants a press first',
  refused: 'cannot be opened',
};

/** The mixes that can leave this computer by outlets of their own. */
export const outletMixes = (plan: HearingPlan): Listener[] => listenersOf(plan).filter(({ kind }) => kind === 'program' || kind === 'feed');

/** `Program` or the feed's own name, as a heading has it. */
export function mixTitle(plan: HearingPlan, listener: ListenerId): string {
  const mix = outletMixes(plan).find(({ id }) => id === listener);
  if (!mix) return 'A mix that is gone';
  const name = listenerName(mix);
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** Whether a mix that should leave by this outlet does not. */
export const carriesNothing = ({ state }: Pick<OutletView, 'state'>): boolean => state === 'away' || state === 'blocked' || state === 'refused';

/** What is shown of the program's and the feeds' outlets while they are open. What waits in them changes several times a second. */
export type OutletStanding = Pick<OutletView, 'state' | 'label' | 'reason'> & { id: string; listener: ListenerId };

/** The standing of all outlets as text: the same text as long as nothing that is shown of them has changed. */
export const standingsOf = ({ outlets }: Pick<PluggedState, 'outlets'>): string =>
  JSON.stringify(Object.entries(outlets).map(([id, { choice, state, label, reason }]): OutletStanding => ({ id, listener: choice.listener, state, label, reason })));

export const standings = (text: string): OutletStanding[] => JSON.parse(text) as OutletStanding[];
