import { BiquadFilter, highPass, lowPass } from '../src/core/dsp/biquad';
import { createRandom, seedFor, type Random } from '../src/core/random';
import { convolve, roomImpulse } from './echo-call';
import { opusLine, type OpusLineOptions } from './opus-line';
import { recordedSpeech } from './recorded-voices';

const RATE = 48_000;

/** A way from one person's voice into another's track. */
export interface RecordedBleed {
  source: number;
  target: number;
  /** Energy of what arrives over energy of what was said, dB. */
  gainDb: number;
  delayMs: number;
  /** What the way does to a voice: a room alone, or one through a telephone's band as well. */
  shape: 'flat' | 'telephone';
  /** Time in which the room's sound falls by 60 dB, ms. */
  reverberationMs: number;
  /** What is heard there: the voice as it was said, or the source's whole track with all that bleeds into it. */
  carries: 'voice' | 'track';
  /** From then on it is another room, as loud, and so late. */
  moves?: { atSeconds: number; delayMs: number };
  /** What codes it besides, on its way there and back. */
  line?: OpusLineOptions;
}

export interface RecordedTakeOptions {
  people: number;
  seconds: number;
  seed: number;
  /** In the order in which sound goes on: whoever carries a track comes after what bleeds into it. */
  bleed: readonly RecordedBleed[];
  /** Steady noise of every track, dBFS. */
  noiseDb: number;
  /** Mains hum that all tracks have, as people on one grid do: its fundamental, dBFS. */
  humDb?: number;
  /** Share of turns that begin while somebody else still speaks. */
  overlap: number;
}

export interface RecordedTake {
  /** What each person said. */
  clean: Float32Array[];
  tracks: Float32Array[];
  /** How late each way is heard, with what its line takes, ms. */
  delaysMs: number[];
}

/** Recorded talkers who take turns, each on a track, with known ways between them: the same for the same seed. */
export function recordedTake({ people, seconds, seed, bleed, noiseDb, humDb, overlap }: RecordedTakeOptions): RecordedTake {
  const random = createRandom(seedFor(seed, 'recorded take'));
  const clean = Array.from({ length: people }, (_, person) => recordedSpeech(seed + person, seconds, random.between(0, 60)));
  const speaks = clean.map((voice) => new Float32Array(voice.length));
  for (const [who, from, until] of turns(people, seconds, overlap, random)) {
    const [a, b] = [Math.round(from * RATE), Math.min(clean[who].length, Math.round(until * RATE))];
    for (let i = a; i < b; i++) speaks[who][i] = Math.max(speaks[who][i], Math.min(1, (i - a) / 2400, (b - i) / 2400));
  }
  clean.forEach((voice, who) => voice.forEach((x, i) => (voice[i] = x * speaks[who][i])));
  const delaysMs: number[] = [];
  const noise = 10 ** (noiseDb / 20);
  const tracks = clean.map((voice) => voice.map((x) => x + noise * random.normal()));
  if (humDb !== undefined) tracks.forEach((track, who) => addHum(track, 10 ** (humDb / 20) * Math.SQRT2, who));
  for (const { source, target, gainDb, delayMs, shape, reverberationMs, carries, moves, line } of bleed) {
    const coded = (sound: Float32Array<ArrayBuffer>, way: string): Float32Array<ArrayBuffer> => {
      if (!line) return sound;
      const carried = opusLine(line)(sound, seedFor(seed, way));
      lateMs[way] = carried.delaysMs[0];
      return carried.sound;
    };
    const travelled = (impulse: Float32Array) => (sound: Float32Array<ArrayBuffer>) => {
      const heard = coded(convolve(coded(sound, 'there'), impulse), 'back');
      return shape === 'telephone' ? telephone(heard) : heard;
    };
    const lateMs: Record<string, number> = {};
    const ways = [travelled(roomImpulse(reverberationMs, delayMs, random)), ...(moves ? [travelled(roomImpulse(reverberationMs, moves.delayMs, random))] : [])];
    for (const [k, through] of ways.entries()) {
      const voice = through(clean[source]);
      const gain = 10 ** (gainDb / 20) * Math.sqrt(energy(clean[source]) / energy(voice));
      const heard = carries === 'voice' ? voice : through(tracks[source]);
      const [from, to] = [k === 0 ? 0 : moves!.atSeconds * RATE, k === 0 && moves ? moves.atSeconds * RATE : heard.length];
      for (let i = from; i < to; i++) tracks[target][i] += gain * heard[i];
    }
    delaysMs.push(Object.values(lateMs).reduce((sum, late) => sum + late, delayMs));
  }
  return { clean, tracks, delaysMs };
}

function turns(people: number, seconds: number, overlap: number, random: Random): [number, number, number][] {
  const all: [number, number, number][] = [];
  for (let at = 0.3, who = 0; at < seconds; ) {
    const until = at + random.between(2, 6);
    all.push([who, at, until]);
    at = random.next() < overlap ? until - random.between(0.3, 0.8) * (until - at) : until + random.between(0.1, 0.7);
    who = (who + 1 + Math.floor(random.next() * (people - 1))) % people;
  }
  return all;
}

/** Of harmonics, against the fundamental; a grid is never quite at 50 Hz. */
const HARMONICS = [1, 0.3, 0.7, 0.2, 0.3, 0.1, 0.2];
const MAINS_HZ = 50.02;

function addHum(track: Float32Array, amplitude: number, phase: number): void {
  for (let i = 0; i < track.length; i++) HARMONICS.forEach((share, k) => (track[i] += share * amplitude * Math.sin((2 * Math.PI * MAINS_HZ * (k + 1) * i) / RATE + phase)));
}

function telephone(sound: Float32Array<ArrayBuffer>): Float32Array<ArrayBuffer> {
  const filters = [highPass(300, RATE), highPass(300, RATE), lowPass(3400, RATE), lowPass(3400, RATE)].map((one) => new BiquadFilter(one));
  return sound.map((x) => filters.reduce((y, filter) => filter.next(y), x));
}

const energy = (sound: Float32Array): number => sound.reduce((sum, x) => sum + x * x, 0);
