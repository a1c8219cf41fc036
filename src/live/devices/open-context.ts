/** Where a context plays: a device by its id (empty for what the system offers), or nowhere. */
export type Sink = string | { type: 'none' };

export const DESK_RATE = 48000;

/** Whether this browser can play a context at a device of one's choice. */
export const canChooseOutputs = (): boolean => typeof AudioContext !== 'undefined' && 'setSinkId' in AudioContext.prototype;

/** A context at 48 kHz. Where the browser cannot choose outputs it plays at the one the system offers. */
export function openContext(sinkId: Sink): AudioContext {
  const options = { sampleRate: DESK_RATE, latencyHint: 'interactive', ...(canChooseOutputs() && sinkId !== '' && { sinkId }) };
  return new AudioContext(options as AudioContextOptions);
}
