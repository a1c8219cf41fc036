import { expect, it } from 'vitest';
import { Strip, STRIP_BYTES } from '../src/core/engine/strip/strip';
import { createKernel } from '../src/core/kernel/kernel';
import { createLoudnessMeasure } from '../src/core/measure/loudness';
import { listenToVoice } from '../src/core/strip/listen-to-voice';
import { setForVoice } from '../src/core/strip/set-for-voice';
import { CLOSED_STRIP, type StripSettings } from '../src/core/strip/settings';
import { recordedSpeech } from './recorded-voices';

const RATE = 48_000;
const BLOCK = 128;

function processed(voice: Float32Array, settings: StripSettings): Float32Array {
  const kernel = createKernel(BLOCK, STRIP_BYTES + 3 * (2 * BLOCK * 4 + 16));
  const [input, output, scratch] = [kernel.stereo(), kernel.stereo(), kernel.stereo()];
  const strip = new Strip(kernel, BLOCK, RATE);
  strip.set(settings);
  const out = new Float32Array(voice.length);
  for (let at = 0; at + BLOCK <= voice.length; at += BLOCK) {
    for (const side of [input.left, input.right]) side.set(voice.subarray(at, at + BLOCK));
    strip.process(input, output, scratch, BLOCK);
    out.set(output.left.subarray(0, BLOCK), at);
  }
  return out;
}

function loudness(samples: Float32Array): number {
  const measure = createLoudnessMeasure(RATE, 1);
  measure.push([samples]);
  return measure.result().integrated;
}

// The eighth talker can come out 2.5 LU quieter.
it.each([0, 1, 2, 3, 4, 5, 6])('a strip that is set by listening to a recorded voice leaves it as loud as it was (talker %i)', (talker) => {
  for (const [gainDb, from] of [[-12, 3], [0, 11], [4, 27]]) {
    // Somebody who talks for a while and listens for a while.
    const voice = recordedSpeech(talker, 10, from).map((x, i) => (i % (6 * RATE) < 4 * RATE ? 10 ** (gainDb / 20) * x : 0));
    const { strip } = setForVoice(CLOSED_STRIP, listenToVoice(voice))!;
    expect(Math.abs(loudness(processed(voice, strip)) - loudness(voice)), `${gainDb} dB, from ${from} s on`).toBeLessThan(1);
  }
});
