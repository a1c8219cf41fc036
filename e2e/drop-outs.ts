const RATE = 48000;
/** Breaks closer together than this are one. */
const APART = RATE / 4;

/**
 * Where a sum of steady tones breaks: each tone is taken out by the two zeros of its own frequency, so that nothing but
 * breaks is left. Gives the samples of the breaks.
 * @param least the smallest jump that counts, of full scale
 */
export function breaks(signal: Float32Array, frequencies: readonly number[], least = 0.004): number[] {
  const left = Float64Array.from(signal);
  for (const frequency of frequencies) {
    const twice = 2 * Math.cos((2 * Math.PI * frequency) / RATE);
    for (let i = left.length - 1; i >= 2; i--) left[i] += left[i - 2] - twice * left[i - 1];
  }
  const found: number[] = [];
  for (let i = 4 * frequencies.length; i < left.length; i++) {
    if (Math.abs(left[i]) < least * 4 ** (frequencies.length - 1)) continue;
    if (found.length === 0 || i - found.at(-1)! > APART) found.push(i);
    else found[found.length - 1] = i;
  }
  return found;
}

/**
 * How many more samples of a steady tone went by in a stretch without breaks than the stretch has, by its phase. The tone must
 * be off by less than half a cycle in each tenth of a second.
 */
export function samplesMore(signal: Float32Array, frequency: number): number {
  const piece = RATE / 10;
  let [turns, before] = [0, 0];
  const pieces = Math.floor(signal.length / piece);
  for (let k = 0; k < pieces; k++) {
    let [re, im] = [0, 0];
    for (let i = k * piece; i < (k + 1) * piece; i++) {
      const phase = (2 * Math.PI * frequency * i) / RATE;
      re += signal[i] * Math.cos(phase);
      im -= signal[i] * Math.sin(phase);
    }
    const angle = Math.atan2(im, re) / (2 * Math.PI);
    if (k > 0) turns += angle - before - Math.round(angle - before);
    before = angle;
  }
  return (turns * RATE) / frequency;
}
