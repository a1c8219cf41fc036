import { Decoder, Encoder } from '@evan/opus';
import { createRandom, seedFor } from '../src/core/random';
import type { LineSound } from '../src/core/practice/simulated-check';

const PACKET = 960;
/** What the coder itself is late, samples. */
const LOOKAHEAD = 312;

export interface OpusLineOptions {
  kbps: number;
  /** Share of packets that are lost; the one before is heard again, fading. */
  loss: number;
  /** How often a second the receiver's buffer jumps. */
  jumpsPerSecond: number;
}

/** A line through the true coder, mono: lost packets, a delay of its own, and a receiver whose buffer jumps now and then. */
export function opusLine({ kbps, loss, jumpsPerSecond }: OpusLineOptions): LineSound {
  return (sound, seed) => {
    const encoder = new Encoder({ channels: 1, sample_rate: 48000, application: 'voip' });
    encoder.bitrate = kbps * 1000;
    const decoder = new Decoder({ channels: 1, sample_rate: 48000 });
    const random = createRandom(seedFor(seed, 'opus'));
    const travel = Math.round(random.between(20, 120) * 48);
    const coded = new Float32Array(sound.length + PACKET);
    const pcm = new Int16Array(PACKET);
    let last = new Int16Array(PACKET);
    let run = 0;
    for (let at = 0; at < sound.length; at += PACKET) {
      for (let i = 0; i < PACKET; i++) pcm[i] = Math.max(-32768, Math.min(32767, Math.round((sound[at + i] ?? 0) * 32767 + random.next() - 0.5)));
      const packet = encoder.encode(pcm);
      const lost = random.next() < loss;
      run = lost ? run + 1 : 0;
      if (!lost) {
        const bytes = decoder.decode(packet);
        last = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2).slice();
      }
      for (let i = 0; i < PACKET; i++) coded[at + i] = (last[i] / 32767) * 0.6 ** run;
    }
    const out = new Float32Array(sound.length);
    const delaysMs = [travel / 48];
    let shift = travel - LOOKAHEAD;
    for (let i = 0; i < out.length; i++) {
      // A jump of the receiver's buffer is a few milliseconds, one way or the other.
      if (i % 480 === 0 && random.next() < jumpsPerSecond / 100) {
        shift = Math.max(0, shift + Math.round(random.between(5, 25) * 48) * (random.next() < 0.5 ? -1 : 1));
        delaysMs.push((shift + LOOKAHEAD) / 48);
      }
      out[i] = coded[i - shift] ?? 0;
    }
    return { sound: out, delaysMs };
  };
}
