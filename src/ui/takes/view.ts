import { SAMPLE_RATE } from '@/core/takes/chunks';
import { formatDuration } from '../format';

/** The stretch of a take that is drawn, samples. */
export interface View {
  from: number;
  to: number;
}

/** The closest look: a few hundred samples across the screen. */
const CLOSEST_SAMPLES = 240;

/** A closer or wider look that keeps one sample where it is on the screen. */
export function zoomed(view: View, factor: number, at: number, length: number): View {
  const span = Math.min(length, Math.max(Math.min(CLOSEST_SAMPLES, length), (view.to - view.from) * factor));
  const share = (at - view.from) / (view.to - view.from);
  return placed(at - share * span, span, length);
}

/** The same look further on, by a share of what is seen. */
export function panned(view: View, share: number, length: number): View {
  const span = view.to - view.from;
  return placed(view.from + share * span, span, length);
}

/** The same look, turned so that a sample is in it, a tenth from its left. */
export function showing(view: View, sample: number, length: number): View {
  if (sample >= view.from && sample <= view.to) return view;
  const span = view.to - view.from;
  return placed(sample - span / 10, span, length);
}

/** Where a sample is across the view: 0 is its left edge and 1 its right. */
export const shareOf = (view: View, sample: number): number => (sample - view.from) / (view.to - view.from);

function placed(from: number, span: number, length: number): View {
  // Whole samples first: two ends that are rounded apart could reach past the take.
  const samples = Math.round(span);
  const start = Math.round(Math.max(0, Math.min(length - samples, from)));
  return { from: start, to: start + samples };
}

/** Distances between ticks, s. */
const STEPS = [0.001, 0.005, 0.01, 0.05, 0.1, 0.5, 1, 5, 10, 30, 60, 300, 600, 1800, 3600, 7200];
/** Width of a figure of the ruler's words, and what is left between two of them, CSS pixels. */
const FIGURE_PX = 7.5;
const BETWEEN_PX = 14;

/** One line of the ruler, with its time: `12:05`, looked at closely `12:05.250`. */
export interface Tick {
  sample: number;
  words: string;
}

/** Times to write along the view, as near to each other as their words have room. @param width CSS pixels; 0 before it is known, and then there are none */
export function ticks(view: View, width: number): Tick[] {
  const span = view.to - view.from;
  const stepFor = STEPS.find((seconds) => (seconds * SAMPLE_RATE * width) / span >= FIGURE_PX * timeOf(view.to, seconds).length + BETWEEN_PX);
  if (width === 0 || stepFor === undefined) return [];
  const step = stepFor * SAMPLE_RATE;
  const last = view.to - (span * FIGURE_PX * timeOf(view.to, stepFor).length) / width;
  const found: Tick[] = [];
  for (let at = Math.ceil(view.from / step) * step; at <= last; at += step) found.push({ sample: Math.round(at), words: timeOf(Math.round(at), stepFor) });
  return found;
}

function timeOf(sample: number, stepSeconds: number): string {
  const words = formatDuration(sample / SAMPLE_RATE);
  return stepSeconds >= 1 ? words : `${words}.${String(Math.floor((sample % SAMPLE_RATE) / 48)).padStart(3, '0')}`;
}
