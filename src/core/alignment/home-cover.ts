import type { Placement } from './placement';

/** A stretch of the session; the end is exclusive. */
export interface Stretch {
  from: number;
  to: number;
}

/** Which stretches of the session a home recording fills, given which of its own samples there are. In order, not touching. */
export function coverOf({ pieces, homeAt }: Placement, has: readonly Stretch[]): Stretch[] {
  const covered: Stretch[] = [];
  for (const piece of pieces) {
    for (const { from, to } of has) {
      const first = Math.max(piece.from, firstAt(piece, from));
      const end = Math.min(piece.to, firstAt(piece, to));
      if (end > first) covered.push({ from: first, to: end });
    }
  }
  return joined(covered);

  /** The first session sample whose place is at this home sample or beyond; a clock that never stands still is searched by halves. */
  function firstAt(piece: { from: number; to: number; offset: number }, homeSample: number): number {
    let low = piece.from;
    let high = piece.to;
    while (low < high) {
      const middle = Math.floor((low + high) / 2);
      if (homeAt(piece, middle) >= homeSample) high = middle;
      else low = middle + 1;
    }
    return low;
  }
}

/** Stretches in order, those that touch made one. */
export function joined(stretches: readonly Stretch[]): Stretch[] {
  const out: Stretch[] = [];
  for (const { from, to } of [...stretches].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else out.push({ from, to });
  }
  return out;
}

/** What lies between the stretches, from 0 to `length`. */
export function between(stretches: readonly Stretch[], length: number): Stretch[] {
  const gaps: Stretch[] = [];
  let at = 0;
  for (const { from, to } of stretches) {
    if (from > at) gaps.push({ from: at, to: from });
    at = Math.max(at, to);
  }
  if (at < length) gaps.push({ from: at, to: length });
  return gaps;
}

/** What of the stretches is not in any of the others; both in order, not touching. */
export function without(stretches: readonly Stretch[], others: readonly Stretch[]): Stretch[] {
  return stretches.flatMap(({ from, to }) =>
    between(others.map((other) => ({ from: Math.max(from, other.from) - from, to: Math.min(to, other.to) - from })).filter((other) => other.to > other.from), to - from).map((gap) => ({ from: gap.from + from, to: gap.to + from })),
  );
}

/** How much of the home recording is heard at a sample of the best of both: 1 inside a stretch, moving over `fade` samples at its ends, 0 outside. */
export function homeShare(stretches: readonly Stretch[], at: number, fade: number): number {
  const stretch = stretches.find(({ to }) => at < to);
  if (!stretch || at < stretch.from) return 0;
  return Math.min(1, (at - stretch.from + 1) / fade, (stretch.to - at) / fade);
}
