import { Decoder, Encoder } from '@evan/opus';
import { createRandom, seedFor } from '../src/core/random';

const PACKET = 960;
/** The receiver's buffer moves at most so often, samples. */
const MOMENT = 480;
/** What the coder itself is late, samples. */
const LOOKAHEAD = 312;

export interface OpusLineOptions {
  kbps: number;
  /** Share of packets that are lost; the one before is heard again, fading. */
  loss: number;
  /** How often a second the receiver's buffer jumps. */
  jumpsPerSecond: number;
}

export interface CarriedSound {
  sound: Float32Array<ArrayBuffer>;
  /** All delays it ever had, ms. */
  delaysMs: number[];
  /** How late it is at a sample, ms, and whether what comes then was made up. */
  at(sample: number): { delayMs: number; lost: boolean };
}

/** A line through the true coder, mono: lost packets, a delay of its own, and a receiver whose buffer jumps now and then. */
export function opusLine({ kbps, loss, jumpsPerSecond }: OpusLineOptions): (sound: Float32Array, seed: number) => CarriedSound {
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
    const lostPackets: boolean[] = [];
    for (let at = 0; at < sound.length; at += PACKET) {
      const heard = Math.min(PACKET, sound.length - at);
      for (let i = 0; i < PACKET; i++) pcm[i] = Math.max(-32768, Math.min(32767, Math.round((i < heard ? sound[at + i] : 0) * 32767 + random.next() - 0.5)));
      const packet = encoder.encode(pcm);
      const lost = random.next() < loss;
      lostPackets.push(lost);
      run = lost ? run + 1 : 0;
      if (!lost) {
        const bytes = decoder.decode(packet);
        last = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2).slice();
      }
      const gain = 0.6 ** run / 32767;
      for (let i = 0; i < PACKET; i++) coded[at + i] = last[i] * gain;
    }
    const out = new Float32Array(sound.length);
    const shifts: number[] = [];
    const delaysMs = [travel / 48];
    let shift = travel - LOOKAHEAD;
    for (let at = 0; at < out.length; at += MOMENT) {
      // A jump of the receiver's buffer is a few milliseconds, one way or the other.
      if (random.next() < jumpsPerSecond / 100) {
        shift = Math.max(0, shift + Math.round(random.between(5, 25) * 48) * (random.next() < 0.5 ? -1 : 1));
        delaysMs.push((shift + LOOKAHEAD) / 48);
      }
      shifts.push(shift);
      const until = Math.min(out.length, at + MOMENT);
      for (let i = Math.max(at, shift); i < until; i++) out[i] = coded[i - shift];
    }
    const at = (sample: number) => {
      const late = shifts[Math.floor(sample / MOMENT)];
      return { delayMs: (late + LOOKAHEAD) / 48, lost: lostPackets[Math.floor((sample - late) / PACKET)] ?? false };
    };
    return { sound: out, delaysMs, at };
  };
}
