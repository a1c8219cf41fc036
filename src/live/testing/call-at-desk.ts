import { createStore, type StoreApi } from 'zustand/vanilla';
import { compilePlan } from '@/core/hearing/compile';
import type { Observation } from '@/core/hearing/observation';
import type { HearingPlan } from '@/core/hearing/plan';
import type { AudioDesk } from '../desk/audio-desk';
import type { DeskPlan } from '../desk/desk-plan';
import type { DeskState } from '../desk/desk-state';
import { initialDeskState } from '../desk/initial-desk-state';
import type { ToMixWorklet } from '../worklet/messages';
import { deskData } from './desk-data';

/** A desk in a call, for a part that listens to it: its state, its plan, and an audio thread that writes down what it is told. */
export interface CallAtDesk {
  store: StoreApi<DeskState>;
  plan: DeskPlan;
  audio(): AudioDesk | null;
  told: ToMixWorklet[];
  /** A source's place in the engine. */
  slotOf(source: string): number;
  observed(): Observation[];
}

export function callAtDesk(change: Partial<DeskState> = {}): CallAtDesk {
  const store = createStore<DeskState>(() => ({ ...initialDeskState(deskData()), call: 'running', ...change }));
  const told: ToMixWorklet[] = [];
  const compiled = () => compilePlan(store.getState().plan);
  let observations: Observation[] = [];
  const keep = (all: Observation[]) => {
    observations = all;
    store.setState({ observations });
  };
  const plan = {
    compiled,
    change: (edit: (now: HearingPlan) => HearingPlan) => store.setState(({ plan: now }) => ({ plan: edit(now) })),
    observe: (newer: readonly Observation[]) => keep([...observations, ...newer]),
    forget: (outdated: (one: Observation) => boolean) => keep(observations.filter((one) => !outdated(one))),
  } as unknown as DeskPlan;
  const audio = { tell: (message: ToMixWorklet) => void told.push(message), playBack: () => Promise.resolve() } as unknown as AudioDesk;
  return { store, plan, told, slotOf: (source) => compiled().sourceIds.indexOf(source as never), observed: () => observations, audio: () => (store.getState().call === 'running' ? audio : null) };
}
