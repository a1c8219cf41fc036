import { measureWith } from '../../src/core/practice/simulated-check';
import { syntheticClip } from '../../src/core/practice/synthetic-voice';
import { parseOptions, wholeNumber } from '../arguments';
import { opusLine } from '../opus-line';
import { judgeSimulated, someFaults } from '../put-faults';
import { readMono } from '../read-wav';

export const usage = 'lab check [--seed S] [--callers N] [--faults F] [--kbps K] [--talking N] [--voice FILE.wav] [--json]';

const ROOM_DB = -75;
const LOSS = 0.02;
const JUMPS_PER_SECOND = 0.3;

/** A line check of a simulated call with faults put in: what was found, missed and imagined. */
export function run(words: readonly string[]): object {
  const options = parseOptions(words, ['seed', 'callers', 'faults', 'kbps', 'talking', 'voice'], ['json']);
  const seed = wholeNumber(options, 'seed', { from: 0, to: 1e9, otherwise: 1 });
  const callers = wholeNumber(options, 'callers', { from: 2, to: 14, otherwise: 4 });
  const count = wholeNumber(options, 'faults', { from: 0, to: 20, otherwise: 3 });
  const kbps = wholeNumber(options, 'kbps', { from: 24, to: 256, otherwise: 96 });
  const talking = wholeNumber(options, 'talking', { from: 0, to: 14, otherwise: 0 });
  const path = options.get('voice');
  const voice = path ? readMono(path) : syntheticClip(seed + 1, 6);
  measureWith(voice);
  const faults = someFaults(callers, count, seed);
  const { check, ...judged } = judgeSimulated({
    callers,
    seed,
    faults,
    roomDb: ROOM_DB,
    line: opusLine({ kbps, loss: LOSS, jumpsPerSecond: JUMPS_PER_SECOND }),
    talk: (caller, samples) => (caller > 0 && caller <= talking ? voice.subarray(0, samples) : null),
  });
  return { seed, callers, faults, ...judged, waysBack: check.found.waysBack, passes: check.found.passes, inputs: check.found.inputs, analysisMs: Math.round(check.analysisMs) };
}
