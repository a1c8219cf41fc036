import type { FarReport } from './assemble';
import { crosspointsAtFarEnd } from './far-end';
import { findLeak } from './leak';
import { PROBE_DB } from './schedule';
import { listenerCodes, sourceCodes } from './setup';

/** What the end of a line must know to judge what arrives there. */
export interface FarSetup {
  seed: number;
  /** Level of each source in this listener's mix; null where it is closed. */
  plannedDb: readonly (number | null)[];
  /** Level of the sources' probes, dBFS. */
  sourcesDb: number;
  listeners: number;
  /** Which of them this is. */
  own: number;
}

/**
 * What arrived at the end of a line, all at 16 kHz and from where each stage may be judged.
 * @param microphone what the microphone there took while the listeners were given probes; null without one
 */
export function farReport({ seed, plannedDb, sourcesDb, listeners, own }: FarSetup, ofSources: Float32Array, ofListeners: Float32Array, microphone: Float32Array | null): FarReport {
  const codes = listenerCodes(listeners, seed);
  return {
    sources: crosspointsAtFarEnd(ofSources, sourceCodes(plannedDb.length, seed), plannedDb, sourcesDb),
    listeners: crosspointsAtFarEnd(ofListeners, codes, codes.codes.map((_, k) => (k === own ? 0 : null)), PROBE_DB),
    leak: microphone && findLeak(ofListeners, microphone, codes.codes[own]),
  };
}
