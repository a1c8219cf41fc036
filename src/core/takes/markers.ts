import { z } from '../zod';
import { SAMPLE_RATE } from './chunks';
import { vttText, vttTime } from './vtt-text';

/** A named moment of a take, or a stretch. */
export interface TakeMarker {
  id: string;
  atSample: number;
  /** 0 for a moment. */
  lengthSamples: number;
  name: string;
}

const samples = z.number().int().nonnegative();
export const markerSchema: z.ZodType<TakeMarker> = z.strictObject({ id: z.uuid(), atSample: samples, lengthSamples: samples, name: z.string().trim().min(1).max(120) });

/** How long a mark of what was just said reaches back. */
export const MARK_BACK_SAMPLES = 30 * SAMPLE_RATE;
/** How long a moment's words stay where a format wants a stretch. */
const SHOWN_SAMPLES = 5 * SAMPLE_RATE;

/** Markers as WebVTT cues (W3C), each a chapter title that a player can jump to. */
export function markersAsVtt(markers: readonly TakeMarker[]): string {
  const cues = markers.map(({ atSample, lengthSamples, name }) => {
    return `${vttTime(atSample)} --> ${vttTime(atSample + (lengthSamples || SHOWN_SAMPLES))}\n${vttText(name)}\n`;
  });
  return ['WEBVTT\n', ...cues].join('\n');
}
