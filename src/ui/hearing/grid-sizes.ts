/** Pixels of the grid's places and heads; the light behind the lamps is laid out by them. */
export interface GridSizes {
  width: number;
  height: number;
  /** Of the column heads, and of the row heads. */
  head: number;
  side: number;
  /** So small that lamps stand alone: their level is said of the one that is pointed at. */
  bare: boolean;
}

const SIDE = 148;
/** Width the places share before the room is known. */
const ROOM_FOR_CELLS = 780;
const MIDDLE = { width: 74, height: 50, head: 56 };
const BARE = { width: { least: 26, most: 48 }, height: { least: 24, most: 34 }, head: 78 };

const between = (least: number, most: number, value: number): number => Math.max(least, Math.min(most, value));

/** Large places on a small desk; on a large one as small as it takes to see all of it at once, and no smaller than can be pressed. */
export function gridSizes(sources: number, listeners: number, room: { width: number; height: number }): GridSizes {
  if (listeners <= 8 && sources <= 10) return { width: between(97, 150, Math.floor(ROOM_FOR_CELLS / listeners)), height: 72, head: 56, side: SIDE, bare: false };
  const fits = room.width === 0 || (SIDE + listeners * MIDDLE.width <= room.width && MIDDLE.head + sources * MIDDLE.height <= room.height);
  if (fits) return { ...MIDDLE, side: SIDE, bare: false };
  const width = between(BARE.width.least, BARE.width.most, Math.floor((room.width - SIDE) / listeners));
  const height = between(BARE.height.least, BARE.height.most, Math.floor((room.height - BARE.head) / sources));
  return { width, height, head: BARE.head, side: SIDE, bare: true };
}
