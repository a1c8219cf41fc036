import type { ForWatchers } from '@/core/lines/messages';
import { SAMPLE_RATE } from './audio-desk';
import type { DeskState } from './desk-state';

/** What windows that watch are shown of this desk. */
export const sceneForWatchers = ({ call, recording, lines }: DeskState, planVersion: number): ForWatchers => ({
  type: 'scene',
  call: call === 'running',
  recording: recording?.phase === 'recording' ? { number: recording.number, seconds: recording.capturedFrames / SAMPLE_RATE } : null,
  planVersion,
  lines: Object.fromEntries(Object.entries(lines).map(([seat, { state, sinceMs }]) => [seat, { state, sinceMs }])),
});
