import { powerToDb } from '../../src/core/dsp/decibels';
import { repairBleed } from '../../src/core/echo/bleed-repair';
import { simulateTake } from '../../src/core/practice/take-with-bleed';
import { decimalNumber, parseOptions, UsageError, wholeNumber } from '../arguments';
import { readMono, stretchOf } from '../read-wav';
import { openWavFile } from '../wav-file';

export const usage = 'lab repair --track T.wav --source S.wav --delay-ms MS [--level-db DB] --out OUT.wav [--json] | lab repair --seeds N [--json]';

const RATE = 48000;

/** Takes one source out of a track, or measures that on simulated takes whose clean voices are known. */
export async function run(words: readonly string[]): Promise<object> {
  const options = parseOptions(words, ['track', 'source', 'delay-ms', 'level-db', 'out', 'seeds'], ['json']);
  if (options.has('seeds')) return simulated(wholeNumber(options, 'seeds', { from: 1, to: 200, otherwise: 12 }));
  const [track, source, out] = ['track', 'source', 'out'].map((name) => {
    const path = options.get(name);
    if (!path) throw new UsageError(`--${name} is needed.`);
    return path;
  });
  const delayMs = decimalNumber(options, 'delay-ms', { above: -300, to: 1500, otherwise: 0 });
  const gainDb = decimalNumber(options, 'level-db', { above: -100, to: 20, otherwise: -30 });
  const sound = readMono(track);
  const file = openWavFile(out, 1);
  for await (const piece of repairBleed({ lengthSamples: sound.length, track: stretchOf(sound), sources: [{ delaySamples: Math.round((delayMs / 1000) * RATE), gainDb, read: stretchOf(readMono(source)) }] })) file.write([piece], piece.length);
  return { out, lengthSamples: file.close() };
}

/** Static bleed of −35 dB, 231 ms late, people who interrupt each other: what is left of it, and what became of the voice. */
async function simulated(seeds: number): Promise<object> {
  const runs: { seed: number; lessBleedDb: number; voiceBeforeDb: number; voiceAfterDb: number }[] = [];
  for (let seed = 1; seed <= seeds; seed++) {
    const { clean, tracks } = simulateTake({ people: 2, seconds: 40, seed, overlapSeconds: 0.6, noiseDb: -96, bleed: [{ source: 0, target: 1, gainDb: -35, delayMs: 231 }] });
    const after = new Float32Array(tracks[1].length);
    let at = 0;
    for await (const piece of repairBleed({ lengthSamples: after.length, track: stretchOf(tracks[1]), sources: [{ delaySamples: Math.round(0.231 * RATE), gainDb: -35, read: stretchOf(tracks[0]) }] })) {
      after.set(piece, at);
      at += piece.length;
    }
    const rest = (signal: Float32Array, speaking: boolean) => {
      let sum = 0;
      let voice = 0;
      for (let i = 0; i < signal.length; i++) {
        if ((clean[1][i] !== 0) !== speaking) continue;
        sum += (signal[i] - clean[1][i]) ** 2;
        voice += clean[1][i] ** 2;
      }
      return { rest: sum, ratioDb: powerToDb(voice / sum) };
    };
    runs.push({
      seed,
      lessBleedDb: powerToDb(rest(tracks[1], false).rest / rest(after, false).rest),
      voiceBeforeDb: rest(tracks[1], true).ratioDb,
      voiceAfterDb: rest(after, true).ratioDb,
    });
  }
  return { unit: 'dB: bleed taken away where only the other speaks; voice to everything else while the owner speaks, before and after', runs };
}
