import { gainToDb } from '../../src/core/dsp/decibels';
import { createLoudnessMeasure } from '../../src/core/measure/loudness';
import { createTruePeakMeasure } from '../../src/core/measure/true-peak';
import { parseOptions, UsageError } from '../arguments';
import { readWavFile } from '../read-wav';

export const usage = 'lab loudness --file SOUND.wav [--json]';

/** Loudness and true peak of a WAV file (ITU-R BS.1770-5). */
export function run(words: readonly string[]): object {
  const path = parseOptions(words, ['file'], ['json']).get('file');
  if (!path) throw new UsageError('--file is needed.');
  const { sampleRate, channels } = readWavFile(path);
  if (channels.length > 2) throw new UsageError(`${path} has ${channels.length} channels; one or two can be measured.`);
  const loudness = createLoudnessMeasure(sampleRate, channels.length);
  loudness.push(channels);
  const peaks = channels.map((samples) => {
    const peak = createTruePeakMeasure();
    peak.push(samples);
    return peak.result();
  });
  const { integrated, momentaryMax, shortTermMax, range } = loudness.result();
  return { file: path, sampleRate, integratedLufs: integrated, momentaryMaxLufs: momentaryMax, shortTermMaxLufs: shortTermMax, rangeLu: range, truePeakDb: gainToDb(Math.max(...peaks)) };
}
