/** What is recorded at the guest's own end, and how far it has come; summed over everything that is on its way. */
export interface HomeState {
  recording: boolean;
  capturedSeconds: number;
  /** Null where this browser has no disk of its own. */
  keptSeconds: number | null;
  sentSeconds: number;
  waiting: string | null;
  /** All that was recorded here has arrived. */
  complete: boolean;
  problem: string | null;
}

export const NO_HOME: HomeState = { recording: false, capturedSeconds: 0, keptSeconds: 0, sentSeconds: 0, waiting: null, complete: false, problem: null };
