import { correlate } from '../src/core/dsp/fft';
import { syntheticClip } from '../src/core/practice/synthetic-voice';

const RATE = 48000;
const GRID = 32768;

/** Rounded to the 16 bits a browser captures with, so that what arrives can be the same to the bit. */
const onGrid = (x: number): number => Math.round(x * GRID) / GRID;

/** Speech of a made-up talker, over and over. */
export function speech(seed: number, seconds: number): Float32Array {
  const clip = syntheticClip(seed, Math.min(seconds, 20));
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => onGrid(clip[i % clip.length]));
}

/** A steady tone with soft ends. */
export function tone(frequency: number, seconds: number, amplitude = 0.1): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => onGrid(amplitude * Math.min(1, i / 2400) * Math.sin((2 * Math.PI * frequency * i) / RATE)));
}

/** What a browser makes of 16 bits: it scales the two halves by the ends of their range, 32767 and 32768. */
const asCaptured = (x: number): number => (x > 0 ? (x * 32768) / 32767 : x);
/** A step of 24 bits, which is what a track holds. */
const STEP = 2 ** -23;

/** How much of what was sent is in a track without one sample changed, looked at in pieces of a quarter of a second; 0 to 1. */
export function exactShare(track: Float32Array, sent: Float32Array): number {
  const piece = RATE / 4;
  const wanted = sent.map(asCaptured);
  const same = (lag: number, from: number, length: number): boolean => {
    if (lag + from < 0 || lag + from + length > track.length) return false;
    for (let i = from; i < from + length; i++) if (!(Math.abs(track[lag + i] - wanted[i]) <= STEP)) return false;
    return true;
  };
  /** A stretch in which something is said: silence fits anywhere. */
  const loudFrom = (from: number): number => {
    for (let i = from; i < from + piece - 400; i++) if (Math.abs(wanted[i]) > 0.02) return i;
    return -1;
  };
  let lag: number | null = null;
  let [looked, exact] = [0, 0];
  for (let from = 0; from + piece < wanted.length; from += piece) {
    const loud = loudFrom(from);
    if (loud < 0) continue;
    looked++;
    if (lag === null || !same(lag, from, piece)) {
      const known: number = lag ?? 0;
      const reach = lag === null ? track.length : RATE;
      lag = null;
      for (let off = 0; off < reach && lag === null; off++) {
        if (same(known + off, loud, 300)) lag = known + off;
        else if (same(known - off, loud, 300)) lag = known - off;
      }
    }
    if (lag !== null && same(lag, from, piece)) exact++;
  }
  return exact / Math.max(1, looked);
}

const ENVELOPE = RATE / 100;
const energy = (samples: Float32Array, from: number, length: number): number => {
  let sum = 0;
  for (let i = from; i < from + length; i++) sum += samples[i] * samples[i];
  return sum;
};

/** How loud a stretch of somebody's sound arrived, against the same stretch on their track: dB, once both lie on each other. Half of the pieces in which they speak are louder. */
export function levelAgainst(heard: Float32Array, track: Float32Array): number {
  const envelope = (samples: Float32Array): number[] => Array.from({ length: Math.floor(samples.length / ENVELOPE) }, (_, k) => Math.sqrt(energy(samples, k * ENVELOPE, ENVELOPE)));
  const [short, long] = [envelope(heard), envelope(track)];
  // By shape, and not by loudness: what is louder elsewhere is no better likeness.
  const likeness = (lag: number): number => {
    let [product, power] = [0, 1e-12];
    for (let k = 0; k < short.length; k++) {
      product += short[k] * long[lag + k];
      power += long[lag + k] ** 2;
    }
    return product / Math.sqrt(power);
  };
  let best = 0;
  for (let lag = 1; lag + short.length <= long.length; lag++) if (likeness(lag) > likeness(best)) best = lag;
  const there = long.slice(best, best + short.length);
  const spoken = 0.1 * Math.max(...there);
  // What a held-up machine left out is no quieter voice: it is few of the pieces.
  // Chosen by both: by one alone it would be chosen where that one happens to be the louder.
  const ratios = short.flatMap((x, k) => (x * there[k] > spoken * spoken ? [20 * Math.log10(x / there[k])] : [])).sort((a, b) => a - b);
  return ratios[Math.floor(ratios.length / 2)];
}

/** How many samples later one sound is in another: where the two are most alike. */
export function samplesLater(sound: Float32Array, inAnother: Float32Array, most: number): number {
  const alike = correlate(inAnother, sound.subarray(0, inAnother.length - most), most);
  return alike.reduce((best, sum, lag) => (sum > alike[best] ? lag : best), 0);
}

export const peakDb = (samples: Float32Array): number => 20 * Math.log10(samples.reduce((peak, x) => Math.max(peak, Math.abs(x)), 1e-9));
