import { alignHome } from '../../src/core/alignment/align-home';
import { placed } from '../../src/core/alignment/placement';
import { simulateHomeAndLine } from '../../src/core/practice/home-and-line';
import { judgeAlignment } from '../../src/core/testing/judge-alignment';
import { parseOptions, UsageError, wholeNumber } from '../arguments';
import { readMono, stretchOf } from '../read-wav';
import { openWavFile } from '../wav-file';

export const usage = 'lab align --line LINE.wav --home HOME.wav [--out PLACED.wav] [--json] | lab align --seeds N [--seconds S] [--json]';

/** Samples written at once. */
const PIECE = 48000;
const DRIFTS_PPM = [50, -50];

/** Where a recording made at the other end belongs on the clock of what came over the line; with --out it is put there. */
export async function run(words: readonly string[]): Promise<object> {
  const options = parseOptions(words, ['line', 'home', 'out', 'seeds', 'seconds'], ['json']);
  if (options.has('seeds')) {
    return simulated(wholeNumber(options, 'seeds', { from: 1, to: 100, otherwise: 2 }), wholeNumber(options, 'seconds', { from: 30, to: 14_400, otherwise: 3600 }));
  }
  const [line, home] = ['line', 'home'].map((name) => {
    const path = options.get(name);
    if (!path) throw new UsageError(`--${name} is needed.`);
    return readMono(path);
  });
  const found = await alignHome({ line: stretchOf(line), lineSamples: line.length, home: stretchOf(home), homeSamples: home.length });
  if (!found) return { aligned: false, reason: 'The two have nothing in common that could be measured.' };
  const out = options.get('out');
  if (out) {
    const file = openWavFile(out, 1);
    for (let at = 0; at < line.length; at += PIECE) {
      const length = Math.min(PIECE, line.length - at);
      file.write([await placed(stretchOf(home), found.placement, at, length)], length);
    }
    file.close();
  }
  const { clock, stretches, placement, better, homeGain, sounding, agreeing } = found;
  return { aligned: true, driftPpm: clock.driftPpm, placement: placement.pieces, line: stretches, betterAtHome: better, homeGain, sounding, agreeing };
}

/** A line whose buffer moves and which loses two packets in a hundred, against a home clock that runs 50 ppm fast or slow. */
async function simulated(seeds: number, seconds: number): Promise<object> {
  const runs: object[] = [];
  for (let seed = 1; seed <= seeds; seed++) {
    const ppm = DRIFTS_PPM[seed % 2];
    const two = simulateHomeAndLine({ seed, seconds, ppm, loss: 0.02 });
    const began = performance.now();
    const found = await alignHome(two);
    const timesRealTime = (seconds * 1000) / (performance.now() - began);
    runs.push(found ? { seed, ppm, jumps: two.jumps.length, ...judgeAlignment(two, found, ppm), timesRealTime } : { seed, ppm, aligned: false });
  }
  return { seconds, runs };
}
