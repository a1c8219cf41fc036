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
/** Of the whole grid, both sides. */
const BORDERS = 2;
/** What a window of 1280 × 800 leaves, before the room is known. */
const ROOM = { width: 930, height: 662 };
const LEVELS_SEEN = { width: { least: 74, most: 150 }, height: { least: 50, most: 72 }, head: 56 };
/** So few sources keep their levels in sight, and are scrolled where the room is very low. */
const FEW = 10;
const BARE = { width: { least: 26, most: 48 }, height: { least: 24, most: 34 }, head: 78 };

const between = (least: number, most: number, value: number): number => Math.max(least, Math.min(most, value));

/** Places as large as the room allows, with their levels while they are in sight; else as small as it takes to see all of it at once, and no smaller than can be pressed. */
export function gridSizes(sources: number, listeners: number, known: { width: number; height: number }): GridSizes {
  const room = known.width === 0 ? ROOM : known;
  const share = (head: number) => ({ width: Math.floor((room.width - SIDE - BORDERS) / listeners), height: Math.floor((room.height - head - BORDERS) / sources) });
  const sizesOf = ({ width, height, head }: typeof LEVELS_SEEN, bare: boolean): GridSizes => {
    const each = share(head);
    return { width: between(width.least, width.most, each.width), height: between(height.least, height.most, each.height), head, side: SIDE, bare };
  };
  const { width, height } = share(LEVELS_SEEN.head);
  const fits = width >= LEVELS_SEEN.width.least && (height >= LEVELS_SEEN.height.least || sources <= FEW);
  return sizesOf(fits ? LEVELS_SEEN : BARE, !fits);
}
