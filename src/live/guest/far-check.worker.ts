import { decimateTo16k } from '@/core/dsp/decimate';
import type { FarEnd } from '@/core/linecheck/far-end';
import { farReport } from '@/core/linecheck/far-report';
import type { FarEndJudged, JudgeFarEnd } from './far-check-messages';

const finite = (far: FarEnd) => ({ ...far, floorDb: Number.isFinite(far.floorDb) ? far.floorDb : null });

self.onmessage = ({ data: { check, sources, listeners, microphone } }: MessageEvent<JudgeFarEnd>) => {
  const report = farReport(check, decimateTo16k(sources), decimateTo16k(listeners), microphone.length === 0 ? null : decimateTo16k(microphone));
  self.postMessage({ type: 'check-report', number: check.number, sources: finite(report.sources), listeners: finite(report.listeners), leak: report.leak } satisfies FarEndJudged);
};
