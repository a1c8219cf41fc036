import { SAMPLE_RATE } from './chunks';
import { vttText, vttTime } from './vtt-text';

/** A pause shorter than this is one in a sentence, s. */
const PAUSE_SECONDS = 0.8;
/** Shorter than this is a cough or a chair, s. */
const LEAST_SECONDS = 0.4;

/** From and to, in samples of the take. */
export type Stretch = readonly [number, number];

/**
 * Stretches in which somebody speaks, of steps that do or do not hold speech.
 * @param stepSamples length of a step
 */
export function speechStretches(speaks: readonly boolean[], stepSamples: number): Stretch[] {
  const found: [number, number][] = [];
  speaks.forEach((here, k) => {
    if (!here) return;
    const [from, to] = [k * stepSamples, (k + 1) * stepSamples];
    const last = found.at(-1);
    if (last && from - last[1] < PAUSE_SECONDS * SAMPLE_RATE) last[1] = to;
    else found.push([from, to]);
  });
  return found.filter(([from, to]) => to - from >= LEAST_SECONDS * SAMPLE_RATE);
}

/** Who speaks when as WebVTT (W3C): a cue a stretch with the name of its voice, without words. Cues of people who speak at once overlap. */
export function whoSpeaksVtt(voices: readonly { name: string; speech: readonly Stretch[] }[]): string {
  const cues = voices
    .flatMap(({ name, speech }) => speech.map(([from, to]) => ({ name: vttText(name), from, to })))
    .sort((a, b) => a.from - b.from || a.to - b.to)
    .map(({ name, from, to }) => `${vttTime(from)} --> ${vttTime(to)}\n<v ${name}>${name}\n`);
  return ['WEBVTT\n', ...cues].join('\n');
}
