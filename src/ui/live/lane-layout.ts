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
const ROW = { least: 30, most: 72 };
/** From this height on a row has two lines under its name, and larger controls. */
export const ROOMY_ROW = 60;
const PITCH = { least: 16, most: 22 };
const LEAST_TRACE = 60;
/** Gaps between columns, and the edges. */
const GAPS = 5 * 8 + 22;
const WIDE = 800;
/** Widths of name, level and hands. Where there is no room for the widest, the first that leaves some for the trace. */
const COLUMNS = { wide: [146, 132, 214], middle: [118, 84, 196], narrow: [104, 78, 178] } as const;

/** Cards while they fit; a table in which every control is still reachable when they do not. */
export function laneLayout({ width, height, lanes, listeners }: LaneRoom): LaneLayout {
  const cards = width >= CARD.rest + CARD.lamp * listeners && height >= lanes * (CARD.height + CARD.gap) - CARD.gap;
  const freeBeside = ([name, level, hands]: readonly [number, number, number]): number => width - name - level - hands - GAPS;
  const columns = width >= WIDE ? COLUMNS.wide : freeBeside(COLUMNS.middle) >= PITCH.most * listeners + LEAST_TRACE ? COLUMNS.middle : COLUMNS.narrow;
  const [name, level, hands] = columns;
  const free = freeBeside(columns);
  const pitch = Math.max(PITCH.least, Math.min(PITCH.most, Math.floor(free / listeners)));
  const left = free - pitch * listeners;
  const row = Math.max(ROW.least, Math.min(ROW.most, Math.floor((height - HEAD) / lanes)));
  return { dense: !cards, row, pitch, name, trace: left >= LEAST_TRACE ? left : 0, level, hands };
}
