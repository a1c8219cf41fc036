import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Of Debian's packages `codec2-examples` and `pocketsphinx-testdata`, which the tests install; nothing of them is shipped. */
const [RADIO, READ] = ['/usr/share/codec2', '/usr/share/pocketsphinx/test/data'];
/** Each talker's recordings, one after another: from 4 s to two minutes. */
const RECORDED_TALKERS: readonly (readonly string[])[] = [
  [`${RADIO}/wav/ve9qrp.wav`],
  ['0870', '0880', '0890', '0920', '0930'].map((part) => `${READ}/librivox/sense_and_sensibility_01_austen_64kb-${part}.wav`),
  ['001', '002', '003', '004', '005'].map((part) => `${READ}/cards/${part}.wav`),
  [`${RADIO}/raw/hts.raw`],
  [`${RADIO}/wav/vk5qi.wav`],
  [`${RADIO}/raw/speech_orig_16k.wav`],
  [`${RADIO}/raw/kristoff.raw`],
  [`${RADIO}/wav/mmt1.wav`],
];
/** Root mean square of what is loud enough to be speech, as a talker is levelled. */
const SPEECH_RMS = 0.07;
const WINDOW = 480;

/** Those that were read: it takes a second and more to read one. */
const read = new Map<number, Float32Array<ArrayBuffer>>();

/** A recorded talker, mono at 48 kHz, speech at −23 dBFS; not to be changed. @throws {Error} when a package is missing */
export function recordedVoice(which: number): Float32Array<ArrayBuffer> {
  const talker = which % RECORDED_TALKERS.length;
  const voice = read.get(talker) ?? readVoice(talker);
  read.set(talker, voice);
  return voice;
}

function readVoice(talker: number): Float32Array<ArrayBuffer> {
  const pcm = Buffer.concat(RECORDED_TALKERS[talker].map(decode));
  const samples = new Float32Array(pcm.buffer.slice(pcm.byteOffset, pcm.byteOffset + 4 * Math.floor(pcm.length / 4)));
  const gain = SPEECH_RMS / loudRms(samples);
  return samples.map((x) => gain * x);
}

/** Samples as 32-bit floats, mono at 48 kHz. */
function decode(file: string): Buffer {
  if (!existsSync(file)) throw new Error(`${file} is missing: it comes with Debian's packages codec2-examples and pocketsphinx-testdata.`);
  const raw = file.endsWith('.raw') ? ['-f', 's16le', '-ar', '8000', '-ac', '1'] : [];
  return execFileSync('ffmpeg', ['-v', 'error', ...raw, '-i', file, '-f', 'f32le', '-ac', '1', '-ar', '48000', '-'], { maxBuffer: 2 ** 28 });
}

/** Of the louder half of all windows. */
function loudRms(samples: Float32Array): number {
  const powers = Array.from({ length: Math.floor(samples.length / WINDOW) }, (_, k) => {
    let sum = 0;
    for (let i = k * WINDOW; i < (k + 1) * WINDOW; i++) sum += samples[i] * samples[i];
    return sum / WINDOW;
  }).sort((a, b) => b - a);
  const loud = powers.slice(0, Math.ceil(powers.length / 2));
  return Math.sqrt(loud.reduce((sum, one) => sum + one, 0) / loud.length);
}

/** So many seconds of one talker, from somewhere; shorter recordings go round. */
export function recordedSpeech(which: number, seconds: number, from = 0): Float32Array<ArrayBuffer> {
  const voice = recordedVoice(which);
  const begin = Math.round(from * 48_000);
  const out = new Float32Array(Math.round(seconds * 48_000));
  for (let at = 0, place = begin % voice.length; at < out.length; place = 0) {
    const piece = voice.subarray(place, place + out.length - at);
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}
