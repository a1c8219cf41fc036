/** How the lanes are laid out on the room there is, pixels. */
export interface LaneLayout {
  /** One table with a shared head, instead of a card for each lane. */
  dense: boolean;
  row: number;
  /** From lamp to lamp. */
  pitch: number;
  name: number;
  /** 0 where there is no room for it. */
  trace: number;
  level: number;
  hands: number;
}

export interface LaneRoom {
  width: number;
  height: number;
  lanes: number;
  listeners: number;
}

const CARD = { height: 92, gap: 8, lamp: 32, rest: 34 + 152 + 88 + 130 + 92 + 136 + 70 };
/** Names over the lamps, written aslant. */
export const HEAD = 66;
const ROW = { least: 30, most: 50 };
const PITCH = { least: 16, most: 22 };
const LEAST_TRACE = 60;
/** Gaps between columns, and the edges. */
const GAPS = 5 * 8 + 22;
const WIDE = 800;

/** Cards while they fit; a table in which every control is still reachable when they do not. */
export function laneLayout({ width, height, lanes, listeners }: LaneRoom): LaneLayout {
  const cards = width >= CARD.rest + CARD.lamp * listeners && height >= lanes * (CARD.height + CARD.gap) - CARD.gap;
  const wide = width >= WIDE;
  const [name, level, hands] = wide ? [146, 132, 214] : [104, 78, 178];
  const free = width - name - level - hands - GAPS;
  const pitch = Math.max(PITCH.least, Math.min(PITCH.most, Math.floor(free / listeners)));
  const left = free - pitch * listeners;
  const row = Math.max(ROW.least, Math.min(ROW.most, Math.floor((height - HEAD) / lanes)));
  return { dense: !cards, row, pitch, name, trace: left >= LEAST_TRACE ? left : 0, level, hands };
}
