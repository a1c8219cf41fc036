import { responseDb } from '../dsp/biquad';
import { powerToDb } from '../dsp/decibels';
import { kWeighting } from '../measure/k-weighting';
import { SPEECH_SPECTRUM } from '../measure/speech-spectrum';
import { compressorGainDb, toneDb } from './curves';
import { LEVEL_HOP, type VoiceFacts } from './listen-to-voice';
import type { StripSettings } from './settings';

const RATE = 48_000;
const K_WEIGHTING = kWeighting(RATE);

const kWeightDb = (hz: number): number => K_WEIGHTING.reduce((sum, filter) => sum + responseDb(filter, hz, RATE), 0);

/** What low cut and equaliser do to the level of a voice with this spectrum, dB. @param weightDb how much a frequency counts */
function toneChangeDb(strip: StripSettings, facts: VoiceFacts, weightDb: (hz: number) => number): number {
  let [before, after] = [0, 0];
  SPEECH_SPECTRUM.forEach(([hz, usualDb], k) => {
    const power = 10 ** ((usualDb + facts.toneDb[k] + weightDb(hz)) / 10);
    before += power;
    after += power * 10 ** (toneDb(strip, hz, RATE) / 10);
  });
  return powerToDb(after / before);
}

/** What the compressor takes from what was said, dB: its gain comes down with the level at once and goes up again slowly, as the engine’s does in finer steps. */
function compressedDb({ compressor }: StripSettings, { levelsDb, spokenFromDb }: VoiceFacts, shiftDb: number): number {
  const share = (ms: number) => 1 - Math.exp(-LEVEL_HOP / ((ms / 1000) * RATE));
  const [attack, release] = [share(compressor.attackMs), share(compressor.releaseMs)];
  let [before, after, gainDb] = [0, 0, 0];
  for (const level of levelsDb) {
    const wanted = compressorGainDb(level + shiftDb, compressor);
    const moveDb = (wanted < gainDb ? attack : release) * (wanted - gainDb);
    if (level > spokenFromDb) {
      before += 10 ** (level / 10);
      after += 10 ** ((level + gainDb + moveDb / 2) / 10);
    }
    gainDb += moveDb;
  }
  return before === 0 ? 0 : powerToDb(before / after);
}

/** How much quieter a voice is heard (ITU-R BS.1770-5) behind low cut, equaliser and a compressor without make-up, dB. */
export function loudnessTakenDb(strip: StripSettings, facts: VoiceFacts): number {
  return compressedDb(strip, facts, toneChangeDb(strip, facts, () => 0)) - toneChangeDb(strip, facts, kWeightDb);
}
