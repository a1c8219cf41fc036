import { createStore } from 'zustand/vanilla';
import { DeskConditions, type Condition } from '../desk/conditions';

/** Conditions of a part of the desk that is looked at alone, and what stands in them. */
export function keptConditions(): { conditions: DeskConditions; said(): string[]; clear(): void } {
  const store = createStore(() => ({ conditions: [] as Condition[] }));
  return { conditions: new DeskConditions(store), said: () => store.getState().conditions.map(({ words }) => words), clear: () => store.setState({ conditions: [] }) };
}
