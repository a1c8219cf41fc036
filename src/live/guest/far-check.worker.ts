import { decimateTo16k } from '@/core/dsp/decimate';
import { crosspointsAtFarEnd, type FarEnd } from '@/core/linecheck/far-end';
import { findLeak } from '@/core/linecheck/leak';
import { PROBE_DB } from '@/core/linecheck/schedule';
import { listenerCodes, sourceCodes } from '@/core/linecheck/setup';
import type { FarEndJudged, JudgeFarEnd } from './far-check-messages';

const finite = (far: FarEnd) => ({ ...far, floorDb: Number.isFinite(far.floorDb) ? far.floorDb : null });

self.onmessage = ({ data: { check, sources, listeners, microphone } }: MessageEvent<JudgeFarEnd>) => {
  const ofSources = sourceCodes(check.plannedDb.length, check.seed);
  const ofListeners = listenerCodes(check.listeners, check.seed);
  const ownOnly = ofListeners.codes.map((_, k) => (k === check.own ? 0 : null));
  const played = decimateTo16k(listeners);
  self.postMessage({
    type: 'check-report',
    number: check.number,
    sources: finite(crosspointsAtFarEnd(decimateTo16k(sources), ofSources, check.plannedDb, check.sourcesDb)),
    listeners: finite(crosspointsAtFarEnd(played, ofListeners, ownOnly, PROBE_DB)),
    leak: microphone.length === 0 ? null : findLeak(played, decimateTo16k(microphone), ofListeners.codes[check.own]),
  } satisfies FarEndJudged);
};
