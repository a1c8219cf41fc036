import { dbToGain } from '../dsp/decibels';
import { findSweep, type Sweep } from './sweep';

/** What a known sound, sent into a line, showed. */
export type LineProof =
  /** It came straight back: both ends are one cable. */
  | { kind: 'loop'; gainDb: number; delayMs: number }
  /** It came back weaker: the far end sends back, or listens on loudspeakers. Somebody is there. */
  | { kind: 'comes-back'; gainDb: number; delayMs: number }
  /** Something came in that is not what was sent. */
  | { kind: 'heard'; peakDb: number }
  | { kind: 'nothing' };

/** A cable takes nothing away; whatever is further down went through somebody's program or room. */
const STRAIGHT_DB = -2;
/** Louder than this is somebody, and not a device that hums. */
const HEARD = dbToGain(-55);

/** The sound that is sent: the sweep twice, for speech can look like one, but not twice at the same delay. */
const GAP_SECONDS = 0.6;
const SAME_MS = 3;
const SAME_DB = 4;

/** The sweep twice, with a pause as long as a way back may take. */
export function provingSound({ samples, sampleRate }: Sweep): { samples: Float32Array; sentAt: [first: number, second: number] } {
  const second = samples.length + Math.round(GAP_SECONDS * sampleRate);
  const sound = new Float32Array(second + samples.length);
  sound.set(samples);
  sound.set(samples, second);
  return { samples: sound, sentAt: [0, second] };
}

/**
 * Judges what came in while a {@link provingSound} was sent.
 * @param recording mono, at the sweep's rate
 * @param beganAt where in it the sound began, samples
 */
export function judgeLine(recording: Float32Array, sweep: Sweep, beganAt: number): LineProof {
  const [first, second] = provingSound(sweep).sentAt.map((at) => {
    const from = beganAt + at;
    return findSweep(recording.subarray(from, from + sweep.samples.length + Math.round(GAP_SECONDS * sweep.sampleRate)), sweep, 0);
  });
  if (first.heard && second.heard && Math.abs(first.delayMs! - second.delayMs!) < SAME_MS && Math.abs(first.levelDb! - second.levelDb!) < SAME_DB) {
    const gainDb = 0.5 * (first.levelDb! + second.levelDb!);
    return { kind: gainDb > STRAIGHT_DB ? 'loop' : 'comes-back', gainDb, delayMs: second.delayMs! };
  }
  let peak = 0;
  for (const x of recording) peak = Math.max(peak, Math.abs(x));
  return peak > HEARD ? { kind: 'heard', peakDb: 20 * Math.log10(peak) } : { kind: 'nothing' };
}
