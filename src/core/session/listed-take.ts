import type { TakeSummary } from '../checks/take-summary';
import type { TaskData } from '../tasks/task';

/** A take as a list shows it. */
export interface ListedTake {
  id: string;
  number: number;
  state: 'recording' | 'sealed';
  /** ISO 8601. */
  startedAt: string;
  lengthSamples: number;
  name: string;
  note: string;
  bytes: number;
  binned: boolean;
  summary: TakeSummary;
  /** What is still being done on it. */
  tasks: TaskData[];
}
