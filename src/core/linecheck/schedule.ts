import { PERIOD } from './codes';

/** Level of one probe where it is sent, dBFS. */
export const PROBE_DB = -32;
/** What one listener is given is never louder than this, all probes of a moment together, dBFS. */
export const LOUDEST_DB = -26;

/** One part of a line check: probes of one kind, all at once. */
export interface Stage {
  /** From its first sample until it may be judged, samples at 48 kHz: sound has to go out, and to come back. */
  leadIn: number;
  /** From then on, samples. */
  judged: number;
}

const TO_HEAR = 24_000;
const TO_COME_BACK = 36_000;

/** First every source is a probe, then every listener is given one, then those again that a louder one hid. */
export const STAGES = {
  sources: { leadIn: TO_HEAR, judged: PERIOD + PERIOD / 2 },
  listeners: { leadIn: TO_COME_BACK, judged: 3 * PERIOD },
  again: { leadIn: TO_COME_BACK, judged: 2 * PERIOD },
} as const satisfies Record<string, Stage>;

export type StageName = keyof typeof STAGES;

export const lengthOf = ({ leadIn, judged }: Stage): number => leadIn + judged;
export const secondsOf = (stage: Stage): number => lengthOf(stage) / 48_000;
