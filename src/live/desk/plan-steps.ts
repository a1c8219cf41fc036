import { applyChange, type PlanChange } from '@/core/hearing/audit/index';
import type { HearingPlan } from '@/core/hearing/plan';
import type { Own, PlanSlice } from './desk-state';

/** How many steps back the desk remembers. */
const MOST_UNDO = 100;
/** Changes of one control closer than this are one step. */
const SAME_STEP_MS = 700;

/** Changes of the plan as steps that can be taken back and again. */
export class PlanSteps {
  readonly #store: Own<PlanSlice>;
  readonly #set: (plan: HearingPlan, rampSeconds?: number) => void;
  #last = { control: '', at: 0 };

  constructor(store: Own<PlanSlice>, set: (plan: HearingPlan, rampSeconds?: number) => void) {
    this.#store = store;
    this.#set = set;
  }

  /** @param control changes of one control that follow each other are one step; '' never joins */
  change(change: (plan: HearingPlan) => HearingPlan, control: string): void {
    const { plan: before, past } = this.#store.getState();
    const now = performance.now();
    const sameStep = control !== '' && control === this.#last.control && now - this.#last.at < SAME_STEP_MS;
    this.#last = { control, at: now };
    const kept = sameStep ? past : [...past, before].slice(-MOST_UNDO);
    this.#store.setState({ past: kept, future: [] });
    this.#set(change(before));
  }

  /** Several changes as one step. */
  apply(changes: readonly PlanChange[], rampSeconds?: number): void {
    const { plan, past } = this.#store.getState();
    this.#last = { control: '', at: 0 };
    this.#store.setState({ past: [...past, plan].slice(-MOST_UNDO), future: [] });
    this.#set(changes.reduce(applyChange, plan), rampSeconds);
  }

  undo(): void {
    const { plan, past, future } = this.#store.getState();
    const before = past.at(-1);
    if (!before) return;
    this.#store.setState({ past: past.slice(0, -1), future: [plan, ...future] });
    this.#set(before);
  }

  redo(): void {
    const { plan, past, future } = this.#store.getState();
    if (future.length === 0) return;
    this.#store.setState({ past: [...past, plan], future: future.slice(1) });
    this.#set(future[0]);
  }
}
