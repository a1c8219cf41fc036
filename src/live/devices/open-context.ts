/** Where a context plays: a device by its id (empty for what the system offers), or nowhere. */
export type Sink = string | { type: 'none' };

export const DESK_RATE = 48000;

/** Whether this browser can play a context at a device of one's choice. */
export const canChooseOutputs = (): boolean => typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype;

/** What an output keeps for its device, seconds: the more, the longer the machine may stand still before it is heard. */
export const LATENCY = {
  /** Somebody talks with what they hear. */
  answered: 0.024,
  /** Nobody answers what is heard. */
  listenedTo: 0.064,
} as const;

/**
 * A context at 48 kHz. Where the browser cannot choose outputs it plays at the one the system offers.
 * @param latencySeconds what it keeps for its device; as little as the browser can by itself
 * @param again how often this output was opened before: a browser keeps the stream of an output that was closed, and when its
 *   device was pulled out meanwhile that stream leads to another one. Other wishes get a stream of their own.
 */
export function openContext(sinkId: Sink, { latencySeconds, again = 0 }: { latencySeconds?: number; again?: number } = {}): AudioContext {
  const options = { sampleRate: DESK_RATE + again, latencyHint: again === 0 && latencySeconds === undefined ? 'interactive' : (latencySeconds ?? 0.012) + 0.004 * again, ...(canChooseOutputs() && sinkId !== '' && { sinkId }) };
  return new AudioContext(options as AudioContextOptions);
}
