import { createRandom } from '../random';

/** Vowel resonances in Hz (first three formants of an adult voice), used in turn by the syllables. */
const VOWELS = [
  [730, 1090, 2440],
  [530, 1840, 2480],
  [270, 2290, 3010],
  [570, 840, 2410],
  [300, 870, 2240],
];
const BANDWIDTHS = [90, 110, 170];
/** Level of a clip's loudest sample: leaves room for several talkers and sounds at once. */
const CLIP_PEAK = 0.25;

/**
 * Speech-like sound for tests and the lab: a pulse train with moving pitch through three resonators
 * (a plain formant synthesiser after Klatt, 1980), with syllables, pauses and a little breath.
 * Every seed gives another talker.
 */
export function syntheticClip(seed: number, seconds: number, sampleRate = 48000): Float32Array {
  const random = createRandom(seed);
  const out = new Float32Array(Math.round(seconds * sampleRate));
  const basePitch = random.between(90, 230);
  const stretch = random.between(0.88, 1.15);
  const resonators = BANDWIDTHS.map(() => ({ y1: 0, y2: 0, a: 0, b: 0, c: 0 }));
  let phase = 0;
  let at = 0;
  while (at < out.length) {
    const length = Math.round(random.between(0.11, 0.28) * sampleRate);
    const rest = random.next() < 0.15 ? Math.round(random.between(0.05, 0.2) * sampleRate) : 0;
    const vowel = VOWELS[random.index(VOWELS.length)];
    vowel.forEach((frequency, k) => tune(resonators[k], frequency * stretch, BANDWIDTHS[k], sampleRate));
    const pitch = basePitch * random.between(0.9, 1.2);
    for (let i = 0; i < length && at < out.length; i++, at++) {
      const envelope = Math.sin((Math.PI * i) / length) ** 0.6;
      phase += (pitch * (1 - (0.1 * i) / length)) / sampleRate;
      let pulse = 0;
      if (phase >= 1) {
        phase -= 1;
        pulse = 1;
      }
      let sample = pulse + 0.004 * random.normal();
      for (const r of resonators) {
        sample = r.a * sample + r.b * r.y1 + r.c * r.y2;
        r.y2 = r.y1;
        r.y1 = sample;
      }
      out[at] = sample * envelope;
    }
    at += rest;
  }
  return normalisePeak(out);
}

/** Digital resonator coefficients of a formant (Klatt 1980, equation 2). */
function tune(
  resonator: { a: number; b: number; c: number },
  frequency: number,
  bandwidth: number,
  sampleRate: number,
): void {
  const radius = Math.exp((-Math.PI * bandwidth) / sampleRate);
  resonator.c = -radius * radius;
  resonator.b = 2 * radius * Math.cos((2 * Math.PI * frequency) / sampleRate);
  resonator.a = 1 - resonator.b - resonator.c;
}

function normalisePeak(samples: Float32Array): Float32Array {
  let peak = 0;
  for (const sample of samples) peak = Math.max(peak, Math.abs(sample));
  if (peak > 0) for (let i = 0; i < samples.length; i++) samples[i] *= CLIP_PEAK / peak;
  return samples;
}
