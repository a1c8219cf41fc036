import { createFft, powerOfTwoFor } from '../src/core/dsp/fft';
import { decimateTo16k } from '../src/core/dsp/decimate';
import { syntheticClip } from '../src/core/practice/synthetic-voice';
import { createRandom, seedFor, type Random } from '../src/core/random';
import { opusLine, type OpusLineOptions } from './opus-line';
import { recordedSpeech } from './recorded-voices';

const RATE = 48_000;

export interface EchoCallOptions {
  seed: number;
  seconds: number;
  voices: 'recorded' | 'made-up';
  /** How the line codes both ways; null for none, with a delay of 60 ms each way. */
  line: OpusLineOptions | null;
  /** Energy of what comes back against what was sent, dB; null for headphones. */
  echoDb: number | null;
  /** Time in which the room's sound falls by 60 dB, ms. */
  reverberationMs: number;
  /** How much of the time both speak at once. */
  bothSpeak: number;
  /** Noise of the room, dBFS. */
  roomDb: number;
  /** Somebody who is sent sits in the same room, so loud in this microphone, dB; null for nobody. */
  sameRoomDb: number | null;
}

/** One end of a call: what was sent there and what came in, mono at 48 kHz, by the desk's clock. */
export interface EchoCall {
  sent: Float32Array<ArrayBuffer>;
  microphone: Float32Array<ArrayBuffer>;
  /** What comes in without what comes back, through the same line; only where nothing codes it. */
  near: Float32Array<ArrayBuffer>;
  /** From the desk to the loudspeaker, through the room and back, ms: all delays it ever had. */
  delaysMs: number[];
  /** The one that is in force where a sample comes in. */
  delayMsAt(sample: number): number;
  /** What of the energy of what was played comes back, dB: a voice has few frequencies, and a room treats each in its own way. */
  trueDb: number | null;
  /** Where the near voice speaks. */
  nearSpeaks(sample: number): boolean;
}

/** A way from loudspeaker to microphone: straight, and then a tail that dies away. Unit energy. */
export function roomImpulse(reverberationMs: number, directMs: number, random: Random): Float32Array {
  const direct = Math.round((directMs / 1000) * RATE);
  const length = Math.round((reverberationMs / 1000) * RATE);
  const impulse = new Float32Array(direct + length);
  for (let i = 0; i < length; i++) impulse[direct + i] = random.normal() * 10 ** ((-3 * i) / length);
  // A loudspeaker stands near: what comes straight is half of it.
  const tail = Math.sqrt(impulse.reduce((sum, x) => sum + x * x, 0));
  for (let i = 0; i < impulse.length; i++) impulse[i] *= Math.SQRT1_2 / tail;
  impulse[direct] += Math.SQRT1_2;
  const energy = Math.sqrt(impulse.reduce((sum, x) => sum + x * x, 0));
  return impulse.map((x) => x / energy);
}

/** Fast convolution, of the same length as the sound. */
export function convolve(sound: Float32Array, impulse: Float32Array): Float32Array<ArrayBuffer> {
  const size = powerOfTwoFor(4 * impulse.length);
  const fft = createFft(size);
  const piece = size - impulse.length + 1;
  const [hRe, hIm] = [new Float64Array(size), new Float64Array(size)];
  hRe.set(impulse);
  fft.forward(hRe, hIm);
  const [re, im] = [new Float64Array(size), new Float64Array(size)];
  const out = new Float32Array(sound.length);
  for (let at = 0; at < sound.length; at += piece) {
    re.fill(0);
    im.fill(0);
    re.set(sound.subarray(at, Math.min(sound.length, at + piece)));
    fft.forward(re, im);
    for (let k = 0; k < size; k++) {
      const x = re[k] * hRe[k] - im[k] * hIm[k];
      im[k] = re[k] * hIm[k] + im[k] * hRe[k];
      re[k] = x;
    }
    fft.inverse(re, im);
    for (let i = 0; i < size && at + i < out.length; i++) out[at + i] += re[i];
  }
  return out;
}

/** Who speaks when: turns of a few seconds with pauses between, or (so much of the time) over the other's. */
function turns(seconds: number, bothSpeak: number, random: Random): { far: [number, number][]; near: [number, number][] } {
  const far: [number, number][] = [];
  const near: [number, number][] = [];
  for (let at = 0.3, who = 0; at < seconds; who = 1 - who) {
    const until = Math.min(seconds, at + random.between(2, 6));
    (who === 0 ? far : near).push([at, until]);
    const over = random.next() < 2 * bothSpeak ? random.between(0.5, 1) * (until - at) : 0;
    if (over > 0) (who === 0 ? near : far).push([until - over, until]);
    at = until + random.between(0.1, 0.7);
  }
  return { far, near };
}

/** A voice that is heard in its turns only, with soft ends. */
function inTurns(voice: Float32Array, when: readonly [number, number][]): Float32Array<ArrayBuffer> {
  const out = new Float32Array(voice.length);
  for (const [from, until] of when) {
    const [a, b] = [Math.round(from * RATE), Math.min(voice.length, Math.round(until * RATE))];
    for (let i = a; i < b; i++) out[i] = voice[i] * Math.min(1, (i - a) / 2400, (b - i) / 2400);
  }
  return out;
}

/** @param who one of three: nobody may be heard twice, for the same words from two mouths are an echo */
const voiceOf = (voices: EchoCallOptions['voices'], call: number, who: 0 | 1 | 2, seconds: number): Float32Array => {
  const seed = seedFor(call, `voice ${who}`);
  const random = createRandom(seed);
  if (voices === 'recorded') return recordedSpeech(call + 3 * who, seconds, random.between(0, 60));
  const clip = syntheticClip(seed, 20);
  return Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => clip[i % clip.length]);
};

function later(sound: Float32Array, samples: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(sound.length);
  out.set(sound.subarray(0, sound.length - samples), samples);
  return out;
}

function sooner(sound: Float32Array, samples: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(sound.length);
  out.set(sound.subarray(samples));
  return out;
}

/** One end of a made-up call, from its seed. */
export function echoCall(options: EchoCallOptions): EchoCall {
  const { seed, seconds, voices, line, echoDb, reverberationMs, bothSpeak, roomDb, sameRoomDb } = options;
  const random = createRandom(seedFor(seed, 'echo call'));
  const when = turns(seconds, bothSpeak, random);
  const [one, two] = [voiceOf(voices, seed, 0, seconds), voiceOf(voices, seed, 1, seconds)];
  // Two others take the far turns, one after another.
  const sent = inTurns(one, when.far.filter((_, k) => k % 2 === 0));
  const other = inTurns(two, when.far.filter((_, k) => k % 2 === 1));
  for (let i = 0; i < sent.length; i++) sent[i] += other[i];
  const own = inTurns(voiceOf(voices, seed, 2, seconds), when.near);
  const through = (sound: Float32Array, way: string) => (line ? opusLine(line)(sound, seedFor(seed, way)) : { sound: later(sound, 0.06 * RATE), delaysMs: [60], at: () => ({ delayMs: 60 }) });
  const down = through(sent, 'down');
  const directMs = random.between(1, 15);
  const played = echoDb === null ? null : convolve(down.sound, roomImpulse(reverberationMs, directMs, random));
  const echoGain = 10 ** ((echoDb ?? 0) / 20);
  const noise = 10 ** (roomDb / 20);
  // What they say reaches the desk over a line of their own as well, about as late.
  const beside = sameRoomDb === null ? null : convolve(sooner(other, Math.round(random.between(0.04, 0.14) * RATE)), roomImpulse(reverberationMs, random.between(3, 12), random));
  const besideGain = 10 ** ((sameRoomDb ?? 0) / 20);
  const clean = own.map((x, i) => x + noise * random.normal() + (beside ? besideGain * beside[i] : 0));
  const picked = played ? clean.map((x, i) => x + echoGain * played[i]) : clean;
  const up = through(picked, 'up');
  const near = line ? clean : through(clean, 'up').sound;
  const delaysMs = down.delaysMs.flatMap((there) => up.delaysMs.map((back) => there + directMs + back));
  const delayMsAt = (sample: number): number => {
    const back = up.at(sample).delayMs;
    return back + directMs + down.at(Math.max(0, sample - Math.round((back * RATE) / 1000))).delayMs;
  };
  const energy = (sound: Float32Array): number => sound.reduce((sum, x) => sum + x * x, 0);
  const trueDb = played && echoDb !== null ? echoDb + 10 * Math.log10(energy(played) / energy(down.sound)) : null;
  return { sent, trueDb, microphone: Float32Array.from(up.sound), near: Float32Array.from(near), delaysMs, delayMsAt, nearSpeaks: (sample) => when.near.some(([from, until]) => sample / RATE >= from && sample / RATE < until) };
}

/** Both ends of a call at the watch's rate. */
export const atWatchRate = ({ sent, microphone }: Pick<EchoCall, 'sent' | 'microphone'>) => ({ sent: decimateTo16k(sent), microphone: decimateTo16k(microphone) });
