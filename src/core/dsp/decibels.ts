/** Linear amplitude gain of a level difference in dB. `-Infinity` gives exactly 0. */
export function dbToGain(db: number): number {
  return db === -Infinity ? 0 : 10 ** (db / 20);
}

/** Level in dB of a linear amplitude. 0 gives `-Infinity`. */
export function gainToDb(gain: number): number {
  return 20 * Math.log10(Math.abs(gain));
}

/** Level in dB of a power (mean square). 0 gives `-Infinity`. */
export function powerToDb(power: number): number {
  return 10 * Math.log10(power);
}
