import { inputOf } from './ids';
import type { HearingPlan, Input } from './plan';

/** The plan with one more input; everybody hears it as the rules say of sounds. */
export const withInput = (plan: HearingPlan, input: Input): HearingPlan => ({ ...plan, inputs: [...plan.inputs, input] });

/** The plan without an input and everything that was said of it. */
export function withoutInput(plan: HearingPlan, id: string): HearingPlan {
  const source = inputOf(id);
  const without = <Row extends object>(row: Row): Row => Object.fromEntries(Object.entries(row).filter(([key]) => key !== source)) as Row;
  return {
    ...plan,
    inputs: plan.inputs.filter((one) => one.id !== id),
    sources: without(plan.sources),
    ducking: without(plan.ducking),
    exceptions: Object.fromEntries(Object.entries(plan.exceptions).map(([listener, row]) => [listener, without(row ?? {})])),
    couplings: plan.couplings.filter(({ from, to }) => from !== source && to !== source),
  };
}
