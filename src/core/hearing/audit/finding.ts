import type { SourceId } from '../ids';
import type { PlanChange } from './plan-change';

export const FINDING_KINDS = ['howl', 'echo', 'double', 'dead-end', 'own-voice-late', 'device', 'crosspoint'] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** What made it, by the name of the mistake, where it has one. */
export type Mistake =
  | 'share-contains-call'
  | 'two-lines'
  | 'caller-on-loudspeakers'
  | 'host-on-loudspeakers'
  | 'other-mix-as-return'
  | 'far-system'
  | 'output-into-input'
  | 'same-room'
  | 'nobody-hears-caller'
  | 'caller-hears-nobody'
  | 'nobody-hears-source'
  | 'listener-hears-nothing'
  | 'listener-no-way-out'
  | 'idle-exception'
  | 'own-voice-in-phones'
  | 'both-ends-one-cable'
  | 'one-output-two-returns'
  | 'return-at-own-phones'
  | 'two-mixes-one-output'
  | 'input-is-other-return'
  | 'input-used-twice'
  | 'one-end-only'
  | 'feed-into-input'
  | 'phones-on-loudspeakers'
  | 'not-as-planned';

/** A change of what is plugged in where. */
export type WiringChange = { type: 'unplug-outlet'; id: string } | { type: 'unplug-input'; source: SourceId };

export interface Fix {
  /** What the button says. */
  label: string;
  /** What it will change, and for whom. */
  effect: string;
  changes: PlanChange[];
  /** What it pulls besides. */
  wiring?: WiringChange[];
  /** The engine is given the whole plan once more. */
  enforce?: boolean;
}

/** One thing the audit has to say. */
export interface Finding {
  /** The same finding has the same key tomorrow: acceptances hang on it. */
  key: string;
  kind: FindingKind;
  mistake: Mistake;
  urgent: boolean;
  /** One plain sentence with its numbers. */
  sentence: string;
  /** Places the sound passes, in order; empty where nothing passes. */
  path: string[];
  gainDb: number | null;
  delayMs: number | null;
  /** Whether its numbers come from couplings that were noted or typical, not measured. */
  noted?: boolean;
  /** When it comes true, in words that follow `as soon as`; absent for what is true now. */
  later?: string;
  fixes: Fix[];
}
