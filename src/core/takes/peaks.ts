/** Frames behind one drawn column at the finest stored zoom: 10 ms. */
export const PEAK_FRAMES = 480;

export interface SampleSummary {
  /** Lowest and highest sample over all channels of every {@link PEAK_FRAMES} frames, ×32767. */
  peaks: Int16Array<ArrayBuffer>;
  /** Largest absolute sample, linear. */
  peak: number;
  /** Over all channels. */
  sumOfSquares: number;
}

/** What a waveform and a level need to know of a run of samples. */
export function summarise(channels: readonly Float32Array[]): SampleSummary {
  const frames = channels[0]?.length ?? 0;
  const columns = Math.ceil(frames / PEAK_FRAMES);
  const peaks = new Int16Array(columns * 2);
  let peak = 0;
  let sumOfSquares = 0;
  for (let column = 0; column < columns; column++) {
    const to = Math.min(frames, (column + 1) * PEAK_FRAMES);
    let low = 1;
    let high = -1;
    for (const channel of channels) {
      for (let i = column * PEAK_FRAMES; i < to; i++) {
        const sample = channel[i];
        if (sample < low) low = sample;
        if (sample > high) high = sample;
        sumOfSquares += sample * sample;
      }
    }
    peak = Math.max(peak, high, -low);
    peaks[2 * column] = Math.max(-32768, Math.round(low * 32767));
    peaks[2 * column + 1] = Math.min(32767, Math.round(high * 32767));
  }
  return { peaks, peak, sumOfSquares };
}

/** The same outline in at most `columns` columns, each the extremes of those it covers. */
export function thinPeaks(peaks: Int16Array, columns: number): Int16Array<ArrayBuffer> {
  const given = peaks.length / 2;
  const count = Math.min(columns, given);
  const thin = new Int16Array(count * 2);
  for (let column = 0; column < count; column++) {
    const to = Math.floor(((column + 1) * given) / count);
    let low = 32767;
    let high = -32768;
    for (let i = Math.floor((column * given) / count); i < to; i++) {
      low = Math.min(low, peaks[2 * i]);
      high = Math.max(high, peaks[2 * i + 1]);
    }
    thin[2 * column] = low;
    thin[2 * column + 1] = high;
  }
  return thin;
}
