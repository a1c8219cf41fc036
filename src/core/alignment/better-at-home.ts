import { BiquadFilter, highPass, lowPass } from '../dsp/biquad';
import { TO_16_KHZ } from '../dsp/decimate';
import type { HomeClock } from './clock';
import { at16k, type TwoRecordings } from './recordings';
import type { LineStretch } from './stretches';

/** A stretch of the line that is not what was spoken at home. */
export interface BetterAtHome {
  atSample: number;
  lengthSamples: number;
}

/** Line and home are compared by half packets, so that a lost one covers at least one of them: 10 ms at 16 kHz. */
const PACKET = 160;
const RATE = 16_000;
/** Below this likeness (a correlation, −1 to 1) a packet was made up, or lost. */
const LIKE = 0.6;
/** Compared in Hz: speech coders move the phases of what is lower, and make up what is higher. */
const BAND = [300, 2000] as const;
/** The filters of the band have forgotten what was before after this: 20 ms. */
const LEAD = 320;
/** Somebody spoke at home: above −50 dBFS in that band. */
const SPOKEN_POWER = 1e-5;
/** Packets read at once. */
const AT_ONCE = 100;

/** Likeness of line and home, and how much louder the home recording is. */
export interface Comparison {
  better: BetterAtHome[];
  /** Level of the home recording against the line where both are alike, as a factor; 1 where nothing is. */
  homeGain: number;
}

/** Where somebody spoke at home and the line brought something else. */
export async function compareWithLine(two: TwoRecordings, stretches: readonly LineStretch[], clock: HomeClock): Promise<Comparison> {
  const line = at16k(two.line);
  const home = at16k(two.home);
  const better: BetterAtHome[] = [];
  let products = 0;
  let linePowers = 0;
  for (const { from, to, offset } of stretches) {
    for (let at = Math.ceil(from / TO_16_KHZ); (at + PACKET) * TO_16_KHZ <= to; at += PACKET * AT_ONCE) {
      const packets = Math.min(AT_ONCE, Math.floor((to / TO_16_KHZ - at) / PACKET));
      const heard = inBand(await line(at - LEAD, LEAD + packets * PACKET));
      const place = at - LEAD + (offset + clock.ahead(at * TO_16_KHZ)) / TO_16_KHZ;
      const whole = Math.floor(place);
      // Over a second a clock gains far less than a sample: one fraction serves them all.
      const spoken = inBand(between(await home(whole - 1, LEAD + packets * PACKET + 3), place - whole));
      for (let k = 0; k < packets; k++) {
        let product = 0;
        let linePower = 0;
        let homePower = 0;
        for (let i = k * PACKET; i < (k + 1) * PACKET; i++) {
          product += heard[i] * spoken[i];
          linePower += heard[i] * heard[i];
          homePower += spoken[i] * spoken[i];
        }
        if (homePower < SPOKEN_POWER * PACKET) continue;
        if (product > LIKE * Math.sqrt(linePower * homePower)) {
          products += product;
          linePowers += linePower;
        } else add(better, (at + k * PACKET) * TO_16_KHZ, PACKET * TO_16_KHZ);
      }
    }
  }
  return { better, homeGain: linePowers > 0 ? products / linePowers : 1 };
}

function add(found: BetterAtHome[], atSample: number, lengthSamples: number): void {
  const last = found.at(-1);
  if (last && last.atSample + last.lengthSamples === atSample) last.lengthSamples += lengthSamples;
  else found.push({ atSample, lengthSamples });
}

/** What of some samples at 16 kHz lies in the band, without the lead. */
function inBand(samples: Float32Array): Float32Array {
  const filters = [highPass(BAND[0], RATE), highPass(BAND[0], RATE), lowPass(BAND[1], RATE), lowPass(BAND[1], RATE)].map((one) => new BiquadFilter(one));
  return samples.map((sample) => filters.reduce((value, filter) => filter.next(value), sample)).subarray(LEAD);
}

/** Values `share` of a sample after each of the samples from the second on (Catmull and Rom, 1974). */
function between(samples: Float32Array, share: number): Float32Array {
  const out = new Float32Array(samples.length - 3);
  for (let i = 0; i < out.length; i++) {
    const [a, b, c, d] = [samples[i], samples[i + 1], samples[i + 2], samples[i + 3]];
    out[i] = b + 0.5 * share * (c - a + share * (2 * a - 5 * b + 4 * c - d + share * (3 * (b - c) + d - a)));
  }
  return out;
}
