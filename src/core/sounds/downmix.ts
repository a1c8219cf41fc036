const HALF_POWER = Math.SQRT1_2;

/**
 * Any number of channels as mono or stereo. Five and six channels are folded as ITU-R BS.775-4,
 * annex 4, table 2 asks (the low-frequency channel is left out); other counts keep the first two.
 * The result may exceed full scale.
 */
export function toStereo(channels: readonly Float32Array[]): Float32Array[] {
  if (channels.length <= 2) return [...channels];
  if (channels.length !== 5 && channels.length !== 6) return channels.slice(0, 2);
  const [left, right, centre] = channels;
  const [leftBehind, rightBehind] = channels.slice(-2);
  const fold = (front: Float32Array, behind: Float32Array) => front.map((x, i) => x + HALF_POWER * (centre[i] + behind[i]));
  return [fold(left, leftBehind), fold(right, rightBehind)];
}
