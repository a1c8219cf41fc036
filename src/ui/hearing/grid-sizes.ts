/** Pixels of the row heads and the column heads; the light behind the lamps is laid out by them. */
export const HEAD_WIDTH = 148;
export const HEAD_HEIGHT = 56;
