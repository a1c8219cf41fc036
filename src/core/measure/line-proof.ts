import { dbToGain } from '../dsp/decibels';
import { findSweep } from './find-sweep';
import type { Sweep } from './sweep';

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

/**
 * Judges what came in while a proving sound was sent. It may begin late, and the machine may stand still meanwhile.
 * @param recording mono, at the sweep's rate
 * @param beganAt where in it the sound began, samples
 */
export function judgeLine(recording: Float32Array, sweep: Sweep, beganAt: number): LineProof {
  const proof = findSweep(recording.subarray(beganAt), sweep);
  if (proof) return { kind: proof.gainDb > STRAIGHT_DB ? 'loop' : 'comes-back', gainDb: proof.gainDb, delayMs: (1000 * proof.at) / sweep.sampleRate };
  let peak = 0;
  for (const x of recording) peak = Math.max(peak, Math.abs(x));
  return peak > HEARD ? { kind: 'heard', peakDb: 20 * Math.log10(peak) } : { kind: 'nothing' };
}
