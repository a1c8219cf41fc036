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
