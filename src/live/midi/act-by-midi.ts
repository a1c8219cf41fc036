import { setSource } from '@/core/hearing/edit';
import type { SourceId } from '@/core/hearing/ids';
import { sourcesOf } from '@/core/hearing/plan';
import { controllerGainDb, type MidiMessage, type MidiTarget } from '@/core/session/midi-bindings';
import type { DeskAction } from '@/core/session/desk-actions';
import type { WorkedDesk } from '../desk/desk-hands';
import type { KeyAction } from '../desk/hold-or-latch';

/** Does what a controller's message is bound to. */
export function actByMidi(desk: WorkedDesk & { readonly actions: Record<DeskAction, KeyAction> }, target: MidiTarget, { value }: MidiMessage): void {
  switch (target.does) {
    case 'pad':
      return value > 0 ? desk.pads.press(target.sound) : desk.pads.release(target.sound);
    case 'action': {
      const action = desk.actions[target.action];
      return value > 0 ? action.press() : action.release?.();
    }
    case 'gain': {
      const source = sourcesOf(desk.store.getState().plan).find(({ id }) => id === target.source);
      if (source) desk.plan.change((plan) => setSource(plan, source.id as SourceId, { trimDb: controllerGainDb(value) }), `midi:${source.id}`);
    }
  }
}
