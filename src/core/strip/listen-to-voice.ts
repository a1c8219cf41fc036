import { powerToDb } from '../dsp/decibels';
import { createRealFft } from '../dsp/real-fft';
import { SPEECH_SPECTRUM } from '../measure/speech-spectrum';

/** What a strip is set by, measured of some seconds of one voice. */
export interface VoiceFacts {
  /** Seconds in which somebody spoke. */
  spokenSeconds: number;
  /** Mean of what was said, of its quieter words (a tenth is below) and of its louder ones (a tenth is above), dBFS. */
  speechDb: number;
  quietDb: number;
  loudDb: number;
  /** The quietest steady moment, dBFS; −Infinity for digital silence. */
  roomDb: number;
  /** Where the voice begins: a tenth of its vowels are below, Hz; null where no vowel was found. */
  lowestHz: number | null;
  /** Third octaves of {@link SPEECH_SPECTRUM}: by how much this voice, without its room, differs from speech at large, dB; the middle of it is 0. */
  toneDb: number[];
  /** Level of every {@link LEVEL_HOP}, one after another, pauses too, dBFS; above `spokenFromDb` it is speech. */
  levelsDb: number[];
  spokenFromDb: number;
}

const RATE = 48_000;
const FRAME = 2048;
const HOP = 1024;
/** Samples, 10 ms: as finely as a compressor follows a voice. */
export const LEVEL_HOP = 480;
/** Speech is within this of the loudest frames, and so far above the room. */
const SPEECH_RANGE_DB = 35;
const ABOVE_ROOM_DB = 9;
const EDGE = 2 ** (1 / 6);
/** Bands that say how loud a voice is in the middle. */
const MIDDLE_HZ = [400, 2500] as const;
/** A vowel repeats itself; its pitch is looked for at 8 kHz. */
const PITCH_STEP = 6;
const PITCH_HZ = [65, 400] as const;
const VOWEL = 0.6;

/** @param samples mono, 48 kHz: some seconds of somebody talking */
export function listenToVoice(samples: Float32Array): VoiceFacts {
  const count = Math.max(0, Math.floor((samples.length - FRAME) / HOP) + 1);
  const starts = Array.from({ length: count }, (_, k) => k * HOP);
  const levels = starts.map((at) => levelDb(samples, at, FRAME));
  const sorted = [...levels].sort((a, b) => a - b);
  const roomDb = quietestDb(levels);
  const threshold = Math.max(roomDb + ABOVE_ROOM_DB, percentile(sorted, 0.95) - SPEECH_RANGE_DB, -65);
  const spoken = starts.filter((_, k) => levels[k] > threshold);
  const spokenLevels = levels.filter((level) => level > threshold).sort((a, b) => a - b);
  return {
    spokenSeconds: (spoken.length * HOP) / RATE,
    speechDb: powerToDb(spokenLevels.reduce((sum, db) => sum + 10 ** (db / 10), 0) / Math.max(1, spokenLevels.length)),
    quietDb: percentile(spokenLevels, 0.1),
    loudDb: percentile(spokenLevels, 0.9),
    roomDb,
    lowestHz: lowestPitch(samples, spoken),
    toneDb: toneOf(samples, spoken, starts.filter((_, k) => levels[k] <= roomDb + 3)),
    levelsDb: Array.from({ length: Math.floor(samples.length / LEVEL_HOP) }, (_, k) => levelDb(samples, k * LEVEL_HOP, LEVEL_HOP)),
    spokenFromDb: threshold,
  };
}

/** A moment is so many frames, 0.13 s, that differ by less than this. */
const MOMENT = 5;
const STEADY_DB = 6;
/** Digital silence. */
const NOTHING_DB = -120;

function quietestDb(levels: readonly number[]): number {
  let quietest = Infinity;
  for (let k = 0; k + MOMENT <= levels.length; k++) {
    const moment = levels.slice(k, k + MOMENT).map((level) => Math.max(NOTHING_DB, level));
    if (Math.max(...moment) - Math.min(...moment) < STEADY_DB) quietest = Math.min(quietest, moment.reduce((sum, level) => sum + level, 0) / MOMENT);
  }
  return quietest <= NOTHING_DB ? -Infinity : quietest;
}

const percentile = (sorted: readonly number[], share: number): number => (sorted.length === 0 ? -Infinity : sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]);

function levelDb(samples: Float32Array, at: number, length: number): number {
  let sum = 0;
  for (let i = 0; i < length; i++) sum += samples[at + i] ** 2;
  return powerToDb(sum / length);
}

/** Mean power of some frames in each third octave. */
function bandPowers(samples: Float32Array, starts: readonly number[]): number[] {
  const fft = createRealFft(FRAME);
  const frame = new Float64Array(FRAME);
  const [re, im, power] = [new Float64Array(FRAME / 2 + 1), new Float64Array(FRAME / 2 + 1), new Float64Array(FRAME / 2 + 1)];
  for (const at of starts) {
    for (let i = 0; i < FRAME; i++) frame[i] = samples[at + i] * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FRAME));
    fft.forward(frame, re, im);
    for (let k = 0; k <= FRAME / 2; k++) power[k] += re[k] ** 2 + im[k] ** 2;
  }
  return SPEECH_SPECTRUM.map(([hz]) => {
    const [from, to] = [Math.max(1, Math.round(((hz / EDGE) * FRAME) / RATE)), Math.round((hz * EDGE * FRAME) / RATE)];
    let sum = 0;
    for (let k = from; k <= Math.max(from, to - 1); k++) sum += power[k];
    // Narrow bands hold one bin or two: by width, as if they were whole.
    return (sum / Math.max(1, to - from)) * ((hz * (EDGE - 1 / EDGE) * FRAME) / RATE) / Math.max(1, starts.length);
  });
}

function toneOf(samples: Float32Array, spoken: readonly number[], pauses: readonly number[]): number[] {
  if (spoken.length === 0) return SPEECH_SPECTRUM.map(() => 0);
  const [speech, room] = [bandPowers(samples, spoken), bandPowers(samples, pauses)];
  const differences = SPEECH_SPECTRUM.map(([, usual], k) => powerToDb(Math.max(1e-12, speech[k] - room[k])) - usual);
  const middle = differences.filter((_, k) => SPEECH_SPECTRUM[k][0] >= MIDDLE_HZ[0] && SPEECH_SPECTRUM[k][0] <= MIDDLE_HZ[1]);
  const around = middle.reduce((sum, db) => sum + db, 0) / middle.length;
  return differences.map((db) => db - around);
}

/** The tenth percentile of the pitch of vowels, by normalised autocorrelation. */
function lowestPitch(samples: Float32Array, spoken: readonly number[]): number | null {
  const length = Math.floor(FRAME / PITCH_STEP);
  const slow = new Float64Array(length);
  const [shortest, longest] = [PITCH_HZ[1], PITCH_HZ[0]].map((hz) => Math.round(RATE / PITCH_STEP / hz));
  const found: number[] = [];
  for (const at of spoken) {
    for (let i = 0; i < length; i++) {
      slow[i] = 0;
      for (let k = 0; k < PITCH_STEP; k++) slow[i] += samples[at + i * PITCH_STEP + k];
    }
    const hz = pitchOf(slow, shortest, longest);
    if (hz !== null) found.push(hz);
  }
  found.sort((a, b) => a - b);
  return found.length < 10 ? null : percentile(found, 0.1);
}

function pitchOf(slow: Float64Array, shortest: number, longest: number): number | null {
  const likeness: number[] = [];
  for (let lag = shortest; lag <= longest; lag++) {
    let [both, first, second] = [0, 0, 0];
    for (let i = 0; i + lag < slow.length; i++) {
      both += slow[i] * slow[i + lag];
      first += slow[i] ** 2;
      second += slow[i + lag] ** 2;
    }
    likeness.push(both / Math.sqrt(first * second + 1e-20));
  }
  const best = Math.max(...likeness);
  if (best < VOWEL) return null;
  // The first peak that is nearly the best: a multiple of the period fits as well.
  const lag = likeness.findIndex((value, k) => value > 0.9 * best && value >= (likeness[k - 1] ?? -1) && value >= (likeness[k + 1] ?? -1));
  return lag < 0 ? null : RATE / PITCH_STEP / (shortest + lag);
}
