/** The quietest level that meters show, dBFS. */
export const FLOOR_DB = -48;
/** From here on there is too little room left above the voice. */
export const HOT_DBFS = -3;
/** So long a peak stays marked. */
export const HELD_MS = 2000;

/** Where a level stands on a meter, 0 to 1. */
export const levelShare = (db: number): number => Math.min(1, Math.max(0, 1 - db / FLOOR_DB));
