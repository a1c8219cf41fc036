import { z } from '../zod';
import { SAMPLE_RATE } from './chunks';

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

/** `00:01:05.250`, as WebVTT wants it. */
function timestamp(sample: number): string {
  const ms = Math.round((sample * 1000) / SAMPLE_RATE);
  const part = (value: number, digits: number) => String(value).padStart(digits, '0');
  return `${part(Math.floor(ms / 3_600_000), 2)}:${part(Math.floor(ms / 60_000) % 60, 2)}:${part(Math.floor(ms / 1000) % 60, 2)}.${part(ms % 1000, 3)}`;
}

/** Markers as WebVTT cues (W3C), each a chapter title that a player can jump to. */
export function markersAsVtt(markers: readonly TakeMarker[]): string {
  const cues = markers.map(({ atSample, lengthSamples, name }) => {
    const text = name.replace(/\s+/g, ' ').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');
    return `${timestamp(atSample)} --> ${timestamp(atSample + (lengthSamples || SHOWN_SAMPLES))}\n${text}\n`;
  });
  return ['WEBVTT\n', ...cues].join('\n');
}
