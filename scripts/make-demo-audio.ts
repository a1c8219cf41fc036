// Makes the demo's voices (espeak-ng) and sounds (synthesised here) as FLAC files below public/.
// Needs Debian's espeak-ng, sox, flac and ffmpeg; run once with `npm run demo-audio`. The files
// are committed, so that neither start nor tests need these programs.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wavHeader } from '../src/core/formats/wav/header';
import { encodeSamples } from '../src/core/formats/wav/sample-format';
import { DEMO_VOICES, demoClipPath, FAR_END_VOICES, farEndClipPath } from '../src/core/practice/demo-conversation';
import { createRandom } from '../src/core/random';

const RATE = 48000;
const scratch = mkdtempSync(join(tmpdir(), 'demo-audio-'));

function makeVoices(): void {
  const all = [DEMO_VOICES.map((voice) => ({ voice, pathOf: demoClipPath })), FAR_END_VOICES.map((voice) => ({ voice, pathOf: farEndClipPath }))].flat();
  for (const { voice, pathOf } of all) {
    voice.lines.forEach((text, line) => {
      const raw = join(scratch, 'raw.wav');
      const clean = join(scratch, 'clean.wav');
      const { variant, pitch, speed } = voice.synthesiser;
      execFileSync('espeak-ng', ['-v', variant, '-p', String(pitch), '-s', String(speed), '-w', raw, text]);
      // No dither: silence stays digital silence. The ends of the clip are trimmed and faded.
      execFileSync('sox', ['-D', raw, '-r', String(RATE), '-c', '1', '-b', '24', clean, 'gain', '-6', 'highpass', '70',
        'silence', '1', '0.02', '0.2%', 'reverse', 'silence', '1', '0.02', '0.2%', 'fade', '0.02', 'reverse', 'fade', '0.01']);
      writeFlac(clean, pathOf(voice.id, line), voice.loudnessLufs - loudnessOf(clean));
    });
  }
}

function loudnessOf(file: string): number {
  const measure = ['-hide_banner', '-nostats', '-i', file, '-af', 'ebur128', '-f', 'null', '-'];
  return readLoudness(spawnSync('ffmpeg', measure, { encoding: 'utf8' }).stderr);
}

function readLoudness(report: string): number {
  const summary = report.slice(report.lastIndexOf('Integrated loudness'));
  const match = /I:\s*(-?[\d.]+) LUFS/.exec(summary);
  if (!match) throw new Error('ffmpeg printed no integrated loudness.');
  return Number(match[1]);
}

function writeFlac(wav: string, path: string, gainDb: number): void {
  const levelled = join(scratch, 'levelled.wav');
  const target = join('public', path);
  mkdirSync(join(target, '..'), { recursive: true });
  execFileSync('sox', ['-D', wav, '-b', '16', levelled, 'gain', gainDb.toFixed(2)]);
  execFileSync('flac', ['-s', '-f', '-8', '--no-padding', '--no-seektable', '-o', target, levelled]);
}

interface Sound {
  left: Float32Array;
  right: Float32Array;
}

function sound(seconds: number): Sound {
  return { left: new Float32Array(seconds * RATE), right: new Float32Array(seconds * RATE) };
}

/** Adds a tone with a decay; `lean` from −1 (left) to 1 (right). */
function ring(out: Sound, at: number, hz: number, seconds: number, level: number, lean = 0): void {
  const from = Math.round(at * RATE);
  const step = (2 * Math.PI * hz) / RATE;
  for (let i = 0; from + i < out.left.length && i < seconds * RATE * 3; i++) {
    const envelope = Math.exp(-i / (seconds * RATE)) * Math.min(1, i / 96);
    const sample = level * envelope * Math.sin(step * i);
    out.left[from + i] += sample * Math.min(1, 1 - lean);
    out.right[from + i] += sample * Math.min(1, 1 + lean);
  }
}

function bell(): Sound {
  const out = sound(3);
  // Partials of a small cast bell: hum, prime, tierce, quint, nominal and above.
  const partials = [[0.5, 0.5, 0.9], [1, 1, 0.7], [1.19, 0.7, 0.5], [1.5, 0.3, 0.4], [2, 0.8, 0.35], [2.52, 0.3, 0.2], [3.01, 0.25, 0.15]];
  for (const strike of [0, 0.62]) {
    partials.forEach(([ratio, level, decay], k) => ring(out, strike, 784 * ratio, decay, level * 0.16, k % 2 ? 0.25 : -0.25));
  }
  return out;
}

/** Plucked notes over a low drone, in a mode of its own. */
function melody(out: Sound, notes: readonly [at: number, half: number][], level: number): void {
  for (const [at, half] of notes) {
    const hz = 220 * 2 ** (half / 12);
    ring(out, at, hz, 0.5, level, -0.2);
    ring(out, at + 0.004, hz * 2.003, 0.3, level * 0.5, 0.3);
    ring(out, at + 0.009, hz * 3.01, 0.16, level * 0.25, 0);
  }
}

function theme(): Sound {
  const out = sound(12);
  const phrase = [0, 3, 5, 7, 10, 7, 5, 3, 0, -2, 0, 3, 7, 12, 10, 7];
  melody(out, phrase.map((half, k) => [k * 0.6, half]), 0.16);
  for (let bar = 0; bar < 4; bar++) ring(out, bar * 2.4, 110, 1.6, 0.12);
  fadeEnd(out, 2);
  return out;
}

function sting(): Sound {
  const out = sound(4);
  melody(out, [[0, 12], [0.18, 7], [0.36, 3], [0.54, 0], [0.9, 12]], 0.17);
  fadeEnd(out, 1);
  return out;
}

/** Water: filtered noise that swells, made to join itself: the end is cross-faded into the start. */
function riverBed(): Sound {
  const seconds = 10;
  const join_ = 2 * RATE;
  const random = createRandom(91);
  const long = sound(seconds + 2);
  for (const side of [long.left, long.right]) {
    let low = 0;
    let lower = 0;
    for (let i = 0; i < side.length; i++) {
      low += 0.05 * (random.normal() - low);
      lower += 0.004 * (low - lower);
      const swell = 0.6 + 0.4 * Math.sin((2 * Math.PI * 3 * i) / (seconds * RATE));
      side[i] = (low - lower) * 0.9 * swell;
    }
  }
  const out = sound(seconds);
  for (const side of ['left', 'right'] as const) {
    for (let i = 0; i < out[side].length; i++) {
      const mix = Math.min(1, i / join_);
      const tail = i < join_ ? long[side][out[side].length + i] : 0;
      out[side][i] = long[side][i] * Math.sqrt(mix) + tail * Math.sqrt(1 - mix);
    }
  }
  return out;
}

function fadeEnd(out: Sound, seconds: number): void {
  const from = out.left.length - seconds * RATE;
  for (let i = from; i < out.left.length; i++) {
    const gain = (out.left.length - i) / (seconds * RATE);
    out.left[i] *= gain;
    out.right[i] *= gain;
  }
}

function makeSounds(): void {
  for (const [name, { left, right }] of Object.entries({ 'opening-theme': theme(), 'ships-bell': bell(), 'river-bed': riverBed(), 'break-sting': sting() })) {
    const wav = join(scratch, 'sound.wav');
    const header = wavHeader({ format: 'pcm24', channels: 2, sampleRate: RATE }, left.length);
    writeFileSync(wav, Buffer.concat([header, encodeSamples('pcm24', [left, right], 0, left.length)]));
    writeFlac(wav, `/practice/sounds/${name}.flac`, 0);
  }
}

makeVoices();
makeSounds();
rmSync(scratch, { recursive: true });
