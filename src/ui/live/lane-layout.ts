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
  /** Columns of the buttons in the hands' one. */
  buttons: string;
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
/** Widths that are given. Where there is no room for the widest, the middle ones if they leave some for the trace. */
const COLUMNS = {
  wide: { name: 146, level: 132, hands: 214, buttons: '44px 70px 56px 28px' },
  middle: { name: 118, level: 84, hands: 196, buttons: '36px 70px 48px 28px' },
  narrow: { name: 104, level: 78, hands: 178, buttons: '32px 62px 44px 26px' },
};

/** Cards while they fit; a table in which every control is still reachable when they do not. */
export function laneLayout({ width, height, lanes, listeners }: LaneRoom): LaneLayout {
  const cards = width >= CARD.rest + CARD.lamp * listeners && height >= lanes * (CARD.height + CARD.gap) - CARD.gap;
  const freeBeside = ({ name, level, hands }: typeof COLUMNS.wide): number => width - name - level - hands - GAPS;
  const columns = width >= WIDE ? COLUMNS.wide : freeBeside(COLUMNS.middle) >= PITCH.most * listeners + LEAST_TRACE ? COLUMNS.middle : COLUMNS.narrow;
  const free = freeBeside(columns);
  const pitch = Math.max(PITCH.least, Math.min(PITCH.most, Math.floor(free / listeners)));
  const left = free - pitch * listeners;
  const row = Math.max(ROW.least, Math.min(ROW.most, Math.floor((height - HEAD) / lanes)));
  return { ...columns, dense: !cards, row, pitch, trace: left >= LEAST_TRACE ? left : 0 };
}
