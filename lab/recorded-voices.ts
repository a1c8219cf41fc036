import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Of Debian's package `codec2-examples`, which the tests install; nothing of it is shipped. */
const FOLDER = '/usr/share/codec2';
/** Talkers by where they are recorded; the long ones are over half a minute. */
const RECORDED_TALKERS = ['wav/ve9qrp.wav', 'wav/vk2tpm_004.wav', 'wav/david4.wav', 'raw/hts.raw', 'wav/vk5qi.wav', 'raw/speech_orig_16k.wav', 'raw/kristoff.raw', 'wav/mmt1.wav'] as const;
/** Root mean square of what is loud enough to be speech, as a talker is levelled. */
const SPEECH_RMS = 0.07;
const WINDOW = 480;

/** A recorded talker, mono at 48 kHz, speech at −23 dBFS. @throws {Error} when the package is missing */
export function recordedVoice(which: number): Float32Array<ArrayBuffer> {
  const file = `${FOLDER}/${RECORDED_TALKERS[which % RECORDED_TALKERS.length]}`;
  if (!existsSync(file)) throw new Error(`${file} is missing: it comes with Debian's package codec2-examples.`);
  const raw = file.endsWith('.raw') ? ['-f', 's16le', '-ar', '8000', '-ac', '1'] : [];
  const pcm = execFileSync('ffmpeg', ['-v', 'error', ...raw, '-i', file, '-f', 'f32le', '-ac', '1', '-ar', '48000', '-'], { maxBuffer: 2 ** 28 });
  const samples = new Float32Array(pcm.buffer.slice(pcm.byteOffset, pcm.byteOffset + 4 * Math.floor(pcm.length / 4)));
  const gain = SPEECH_RMS / loudRms(samples);
  return samples.map((x) => gain * x);
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
  return Float32Array.from({ length: Math.round(seconds * 48_000) }, (_, i) => voice[(begin + i) % voice.length]);
}
