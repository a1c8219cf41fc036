import { describe, expect, it } from 'vitest';
import { bell, BiquadFilter, lowShelf } from '../dsp/biquad';
import { createRealFft } from '../dsp/real-fft';
import { SPEECH_SPECTRUM } from '../measure/speech-spectrum';
import { createRandom } from '../random';
import { listenToVoice } from './listen-to-voice';
import { setForVoice } from './set-for-voice';
import { CLOSED_STRIP } from './settings';

const RATE = 48_000;

/** Noise with the spectrum of speech, in words and pauses, in a room of so many dBFS, over a line that carries some hertz. */
function voice(seed: number, roomDb = -75, gainDb = 0, [fromHz, toHz] = [0, RATE / 2]): Float32Array {
  const random = createRandom(seed);
  const size = 2 ** 19;
  const fft = createRealFft(size);
  const [re, im, samples] = [new Float64Array(size / 2 + 1), new Float64Array(size / 2 + 1), new Float64Array(size)];
  for (let k = 1; k < size / 2; k++) {
    if ((k * RATE) / size < fromHz || (k * RATE) / size > toHz) continue;
    const size1 = 10 ** (speechDensityDb((k * RATE) / size) / 20);
    re[k] = size1 * random.normal();
    im[k] = size1 * random.normal();
  }
  fft.inverse(re, im, samples);
  const mean = Math.sqrt(samples.reduce((sum, x) => sum + x * x, 0) / size);
  let loudness = 1;
  return Float32Array.from({ length: 12 * RATE }, (_, i) => {
    if (i % 9600 === 0) loudness = 10 ** (random.between(-9, 3) / 20);
    const syllable = Math.max(0, Math.sin((Math.PI * (i % 9600)) / 9600)) * (i % (2 * RATE) < 1.5 * RATE ? loudness : 0);
    return ((10 ** ((gainDb - 24) / 20) * samples[i % size]) / mean) * syllable + random.normal() * 10 ** (roomDb / 20);
  });
}

/** Power for each hertz, between the third octaves in a straight line over the logarithm of frequency. */
function speechDensityDb(hz: number): number {
  const above = SPEECH_SPECTRUM.findIndex(([middle]) => middle >= hz);
  if (above === 0) return SPEECH_SPECTRUM[0][1] - 10 * Math.log10(SPEECH_SPECTRUM[0][0]) - 60 * Math.log10(SPEECH_SPECTRUM[0][0] / hz);
  if (above < 0) return 0;
  const [[low, from], [high, to]] = [SPEECH_SPECTRUM[above - 1], SPEECH_SPECTRUM[above]];
  const part = Math.log(hz / low) / Math.log(high / low);
  return from * (1 - part) + to * part - 10 * Math.log10(hz);
}

const filtered = (samples: Float32Array, filter: BiquadFilter) => samples.map((x) => filter.next(x));
const set = (samples: Float32Array) => setForVoice(CLOSED_STRIP, listenToVoice(samples))!;
const bandGain = (samples: Float32Array, place: number) => set(samples).strip.equaliser.bands[place].gainDb;

describe('a strip that is set by listening', () => {
  it('finds where the voice begins, from the voice itself', () => {
    for (const hz of [90, 140, 210]) {
      const pulses = Float32Array.from({ length: 10 * RATE }, (_, i) => (i % (2 * RATE) < 1.4 * RATE ? 0.1 * [1, 2, 3, 4, 5, 6].reduce((sum, k) => sum + Math.sin((2 * Math.PI * hz * k * i) / RATE) / k, 0) : 0));
      expect(Math.abs(listenToVoice(pulses).lowestHz! - hz) / hz, `${hz} Hz`).toBeLessThan(0.04);
      const { lowCut } = set(pulses).strip;
      expect(lowCut.hz).toBeLessThan(0.75 * hz);
      expect(lowCut.hz).toBeGreaterThanOrEqual(50);
    }
  });

  it('leaves the tone of an ordinary voice alone', () => {
    for (const seed of [1, 2, 3]) expect(set(voice(seed)).strip.equaliser.on).toBe(false);
  });

  it('takes back half of what makes a voice boomy, boxy or dull, and says so', () => {
    for (const seed of [1, 2, 3]) {
      const plain = voice(seed);
      const boomy = filtered(plain, new BiquadFilter(lowShelf(250, 8, RATE)));
      expect(bandGain(boomy, 0) - bandGain(plain, 0)).toBeLessThanOrEqual(-2);
      const dull = filtered(plain, new BiquadFilter(bell(3500, -8, 0.6, RATE)));
      expect(bandGain(dull, 2) - bandGain(plain, 2)).toBeGreaterThanOrEqual(1.5);
      expect(set(boomy).reasons.find(({ insert }) => insert === 'equaliser')!.sentence).toContain('boomy');
    }
  });

  it('judges a telephone by what it carries, raises nothing it does not bring, and says where it ends', () => {
    for (const [seed, band] of [[1, [300, 3400]], [2, [50, 7000]], [3, [200, 3900]]] as const) {
      const proposal = set(voice(seed, -85, 0, [...band]));
      // A decibel for the third octave in which the line begins.
      for (const { gainDb } of proposal.strip.equaliser.bands) expect(Math.abs(gainDb), band.join('–')).toBeLessThanOrEqual(1);
      expect(proposal.reasons.find(({ insert }) => insert === 'equaliser')!.sentence).toContain('nothing comes by this line');
    }
    const dull = voice(4, -85, 0, [300, 3900]);
    expect(bandGain(filtered(dull, new BiquadFilter(bell(3500, -8, 0.6, RATE))), 2)).toBeGreaterThanOrEqual(1.5);
  });

  it('gates a room that is between quiet and loud, and neither a quiet one nor one that words would drown in', () => {
    for (const seed of [1, 4]) {
      const facts = listenToVoice(voice(seed, -60));
      const { gate } = setForVoice(CLOSED_STRIP, facts)!.strip;
      expect(gate.on).toBe(true);
      expect(gate.thresholdDb).toBeGreaterThan(facts.roomDb + 4);
      expect(gate.thresholdDb).toBeLessThan(facts.quietDb - 4);
      expect(set(voice(seed, -85)).strip.gate.on).toBe(false);
      expect(set(voice(seed, -38)).strip.gate.on).toBe(false);
    }
  });

  it('leaves a voice as loud as it was, however loud that is', () => {
    for (const gainDb of [-20, 0, 6]) {
      const facts = listenToVoice(voice(5, -90, gainDb));
      const { compressor } = setForVoice(CLOSED_STRIP, facts)!.strip;
      expect(Math.abs(compressor.thresholdDb - facts.speechDb)).toBeLessThan(5);
      expect(compressor.makeUpDb).toBeGreaterThan(1);
      expect(compressor.makeUpDb).toBeLessThan(8);
    }
  });

  it('sets nothing where hardly anything was said', () => {
    const random = createRandom(1);
    expect(setForVoice(CLOSED_STRIP, listenToVoice(Float32Array.from({ length: 10 * RATE }, () => 0.001 * random.normal())))).toBeNull();
    expect(setForVoice(CLOSED_STRIP, listenToVoice(new Float32Array(10 * RATE)))).toBeNull();
    expect(setForVoice(CLOSED_STRIP, listenToVoice(new Float32Array(100)))).toBeNull();
  });
});
