import { expect, type Page } from '@playwright/test';

const RATE = 48000;
/** A stretch of a third of a second: tones 20 Hz apart are told apart. */
const STRETCH = 16384;
/**
 * How far a tone may lie from its own pitch and still be it, Hz. What waits too long is read faster, what comes late is
 * bridged, and both spread a tone over its neighbourhood without making it any quieter.
 */
const SPREAD_HZ = 12;

/** Energy of a windowed stretch at one frequency, by Goertzel’s recursion. */
function energyAt(windowed: Float64Array, frequency: number): number {
  const twice = 2 * Math.cos((2 * Math.PI * frequency) / RATE);
  let last = 0;
  let before = 0;
  for (let i = 0; i < windowed.length; i++) {
    const now = windowed[i] + twice * last - before;
    before = last;
    last = now;
  }
  return last * last + before * before - twice * last * before;
}

const windows = new Map<number, { hann: Float64Array; weights: number }>();

/** The window of a stretch and the sum of its squares, made once. */
function windowOf(length: number): { hann: Float64Array; weights: number } {
  let known = windows.get(length);
  if (!known) {
    const hann = Float64Array.from({ length }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length));
    windows.set(length, (known = { hann, weights: hann.reduce((sum, weight) => sum + weight * weight, 0) }));
  }
  return known;
}

/** Level of a tone in one stretch: the energy around its pitch by Parseval’s theorem, dBFS of the peak of a sine with as much. */
function stretchDb(samples: Float32Array, frequency: number): number {
  const { length } = samples;
  const { hann, weights } = windowOf(length);
  const windowed = hann.map((weight, i) => weight * samples[i]);
  const bin = RATE / length;
  const reach = Math.max(1, Math.round(SPREAD_HZ / bin));
  let energy = 0;
  for (let k = -reach; k <= reach; k++) energy += energyAt(windowed, frequency + k * bin);
  return 10 * Math.log10((4 * energy) / (length * weights) + 1e-30);
}

function inStretches(samples: Float32Array, frequency: number, length = STRETCH): number[] {
  return Array.from({ length: Math.floor(samples.length / length) }, (_, k) => stretchDb(samples.subarray(k * length, (k + 1) * length), frequency));
}

/** Level of a tone in a signal, dBFS of its peak: the mean power of its stretches. */
export function toneDb(samples: Float32Array, frequency: number): number {
  if (samples.length < STRETCH) return stretchDb(samples, frequency);
  const powers = inStretches(samples, frequency).map((db) => 10 ** (db / 10));
  return 10 * Math.log10(powers.reduce((sum, power) => sum + power, 0) / powers.length);
}

/** In the best stretch: a jitter buffer that catches up bends a tone for a moment. */
export const bestToneDb = (samples: Float32Array, frequency: number, length = STRETCH): number => Math.max(...inStretches(samples, frequency, length));

/** Half of the stretches have more: neither what broke off nor what was said at the same pitch counts. */
export const usualToneDb = (samples: Float32Array, frequency: number): number => {
  const sorted = inStretches(samples, frequency).sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
};

/** In the weakest stretch: a tone beneath speech is there in every pause as well, and speech has every frequency at times. */
export const steadyToneDb = (samples: Float32Array, frequency: number): number => Math.min(...inStretches(samples, frequency));

export interface HeardTone {
  best: number;
  /** Of half the stretches it is more. */
  usual: number;
  worst: number;
}

/** So many stretches tell a moment that went wrong from a line that is wrong. */
const USUAL_STRETCHES = 6;

/** Some stretches of what a page receives from now on, one behind the other. */
async function heardStretches(page: Page, count: number): Promise<Float32Array> {
  const text = await page.evaluate(async ([length, stretches]) => {
    const { received } = window as unknown as { received: { stream: MediaStream } };
    const context = new AudioContext({ sampleRate: 48000 });
    const analyser = new AnalyserNode(context, { fftSize: length });
    context.createMediaStreamSource(received.stream).connect(analyser);
    const samples = new Float32Array(stretches * length);
    for (let stretch = 0; stretch < stretches; stretch++) {
      const full = 0.9 + 0.4 * stretch;
      while (context.currentTime < full) await new Promise((resolve) => setTimeout(resolve, 50));
      analyser.getFloatTimeDomainData(samples.subarray(stretch * length, (stretch + 1) * length));
    }
    await context.close();
    let binary = '';
    const bytes = new Uint8Array(samples.buffer);
    for (let at = 0; at < bytes.length; at += 8192) binary += String.fromCharCode(...bytes.subarray(at, at + 8192));
    return btoa(binary);
  }, [STRETCH, count]);
  const bytes = Buffer.from(text, 'base64');
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}

/** What a page hears of some tones, dBFS of their peaks: in its best, its middle and its worst short stretch of several. */
export async function heardTones(page: Page, frequencies: number[], stretches = USUAL_STRETCHES): Promise<Map<number, HeardTone>> {
  const heard = await heardStretches(page, stretches);
  return new Map(
    frequencies.map((frequency) => {
      const sorted = inStretches(heard, frequency).sort((a, b) => a - b);
      return [frequency, { best: sorted.at(-1)!, usual: sorted[Math.floor(sorted.length / 2)], worst: sorted[0] }];
    }),
  );
}

/** That a page hears a tone, sooner or later: a line that has just begun, or a busy machine, makes sound up for a while. */
export async function expectHears(page: Page, frequency: number, leastDb = -21): Promise<void> {
  await expect.poll(async () => (await heardTones(page, [frequency], 2)).get(frequency)!.best, { timeout: 45_000 }).toBeGreaterThan(leastDb);
}
