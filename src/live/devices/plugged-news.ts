import type { Conditions } from '../desk/conditions';
import type { PluggedState } from './plugged-state';

/** Whether nothing of what is plugged in differs. */
export const same = (some: PluggedState, others: PluggedState): boolean =>
  some.devices === others.devices && some.choices === others.choices && JSON.stringify([some.inputs, some.outlets, some.cameBack, some.farEnd]) === JSON.stringify([others.inputs, others.outlets, others.cameBack, others.farEnd]);

/** What is left when nothing is measured. */
export function withoutNumbers(plugged: PluggedState): PluggedState {
  const inputs = map(plugged.inputs, (view) => ({ ...view, delayMs: null, driftPpm: null, lost: 0, glitches: 0, evened: 0, rate: null }));
  const outlets = map(plugged.outlets, (view) => ({ ...view, delayMs: null, driftPpm: null, glitches: 0 }));
  return { ...plugged, inputs, outlets };
}

/** Views that have not changed are the same objects as before, so that nobody who shows one draws it again. */
export const kept = <View extends object>(before: Record<string, View>, now: Record<string, View>): Record<string, View> =>
  map(now, (view, id) => (JSON.stringify(before[id]) === JSON.stringify(view) ? before[id] : view));

function map<View extends object>(views: Record<string, View>, change: (view: View, id: string) => View): Record<string, View> {
  return Object.fromEntries(Object.entries(views).map(([id, view]) => [id, change(view, id)]));
}

/** A device that is away needs the host until it is back. Its state says which it is: a device may have any name. */
export function sayOfDevice(conditions: Conditions, id: string, state: string | undefined, words: string): void {
  if (state === 'away') conditions.begin(`device-${id}`, words);
  else conditions.news(`device-${id}`, words);
}
