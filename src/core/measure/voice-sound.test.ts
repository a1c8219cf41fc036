import { describe, expect, it } from 'vitest';
import { createRandom } from '../random';
import { syntheticClip } from '../practice/synthetic-voice';
import { judgeRoom, judgeSpeech } from './voice-judgement';
import { createLoudnessMeasure } from './loudness';
import { VoiceSound } from './voice-sound';

const RATE = 48_000;

/** Speech, a pause, speech, over the noise of a room and a hum. */
function heard({ gain = 1, noiseDb = -65, humDb = null as number | null, seed = 3 } = {}) {
  const clip = syntheticClip(seed, 4);
  const random = createRandom(seed);
  const signal = new Float32Array(13 * RATE);
  for (const at of [0, 8]) clip.forEach((x, i) => (signal[at * RATE + i] = Math.max(-1, Math.min(1, gain * x))));
  const noise = 10 ** (noiseDb / 20);
  const hum = humDb === null ? 0 : Math.SQRT2 * 10 ** (humDb / 20);
  for (let i = 0; i < signal.length; i++) signal[i] = Math.max(-1, Math.min(1, signal[i] + noise * random.normal() + hum * Math.sin((2 * Math.PI * 50 * i) / RATE)));
  return { signal, clip };
}

function read(signal: Float32Array) {
  const voice = new VoiceSound();
  // As a capture brings it.
  for (let at = 0; at < signal.length; at += 128) voice.push(signal.subarray(at, at + 128));
  return voice.read();
}

describe('how somebody sounds', () => {
  it('is the loudness of what was said, and of the room between', () => {
    for (const gain of [0.25, 0.5]) {
      const { signal, clip } = heard({ gain });
      const measure = createLoudnessMeasure(RATE, 1);
      measure.push([clip.map((x) => gain * x)]);
      const reading = read(signal);
      expect(Math.abs(reading.speechLufs! - measure.result().integrated)).toBeLessThan(0.7);
      expect(Math.abs(reading.noiseDb! + 65)).toBeLessThan(1);
      expect([reading.hum, reading.clippedRuns, judgeRoom(reading).words]).toEqual([null, 0, 'quiet']);
    }
  });

  it('names what is wrong: too quiet, too hot, distortion, a loud room, hum', () => {
    const words = (change: Parameters<typeof heard>[0]) => {
      const reading = read(heard(change).signal);
      return [judgeSpeech(reading).words, judgeRoom(reading).words];
    };
    expect(words({ gain: 0.05 })).toEqual(['too quiet', 'quiet']);
    expect(words({ gain: 9 })[0]).toBe('distorts');
    expect(words({ gain: 0.5, noiseDb: -44 })[1]).toBe('loud room');
    expect(words({ gain: 0.5, humDb: -52 })[1]).toBe('hum at 50 Hz');
  });

  it('calls a voice too hot that is so again and again, and not one that knocked against the table once', () => {
    const { signal, clip } = heard();
    const loudest = clip.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    const hot = signal.map((x) => (0.8 / loudest) * x);
    expect(judgeSpeech(read(hot)).words).toBe('too hot');
    const fits = signal.map((x) => (0.35 / loudest) * x);
    const before = judgeSpeech(read(fits)).words;
    expect(['good', 'a little hot']).toContain(before);
    for (let i = 0; i < 0.15 * RATE; i++) fits[5 * RATE + i] += 0.85 * Math.sin(i / 40) * Math.exp(-i / 2000);
    const knocked = read(fits);
    expect(knocked.peakDb).toBeGreaterThan(-3);
    expect(judgeSpeech(knocked).words).toBe(before);
  });

  it('says nothing of somebody who has said nothing, and forgets what is half a minute old', () => {
    expect(read(new Float32Array(2 * RATE))).toEqual({ speechLufs: null, peakDb: null, peakAgainDb: null, noiseDb: null, silentPauses: true, hum: null, clippedRuns: 0 });
    const voice = new VoiceSound();
    voice.push(heard({ gain: 9 }).signal);
    expect(voice.read().clippedRuns).toBeGreaterThan(0);
    voice.push(heard({ gain: 0.3 }).signal);
    voice.push(new Float32Array(20 * RATE));
    expect([voice.read().clippedRuns, judgeSpeech(voice.read()).words === 'distorts']).toEqual([0, false]);
  });
});
