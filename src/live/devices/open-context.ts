/** Where a context plays: a device by its id (empty for what the system offers), or nowhere. */
export type Sink = string | { type: 'none' };

export const DESK_RATE = 48000;

/** Whether this browser can play a context at a device of one's choice. */
export const canChooseOutputs = (): boolean => typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype;

interface ContextWishes {
  /**
   * How often this output was opened before: a browser keeps the stream of an output that was closed, and when its device was
   * pulled out meanwhile that stream leads to another one. Other wishes get a stream of their own.
   */
  again?: number;
  /** Nobody answers what is heard: it may come later, and must not break. */
  patient?: boolean;
}

/** A context at 48 kHz. Where the browser cannot choose outputs it plays at the one the system offers. */
export function openContext(sinkId: Sink, { again = 0, patient = false }: ContextWishes = {}): AudioContext {
  const first = patient ? 'playback' : 'interactive';
  const later = (patient ? 0.03 : 0.012) + 0.004 * again;
  const options = { sampleRate: DESK_RATE + again, latencyHint: again === 0 ? first : later, ...(canChooseOutputs() && sinkId !== '' && { sinkId }) };
  return new AudioContext(options as AudioContextOptions);
}
