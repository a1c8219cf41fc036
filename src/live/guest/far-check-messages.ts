import type { CheckAhead, CheckReport } from '@/core/lines/check-messages';

/** What a guest's page heard of a check, at 48 kHz, from where each stage may be judged. */
export interface JudgeFarEnd {
  check: CheckAhead;
  sources: Float32Array<ArrayBuffer>;
  listeners: Float32Array<ArrayBuffer>;
  /** The microphone meanwhile; empty without one. */
  microphone: Float32Array<ArrayBuffer>;
}

export type FarEndJudged = CheckReport;
