import type { CompiledOffset } from '../hearing/offset';
import { MOST_OFFSET_MS } from '../hearing/source-treatment';
import type { KernelStereo } from './kernel/kernel';
import type { Mixer, Stereo } from './mixer';

/**
 * Delays sources by hand, behind everything else that is done to them: what the mixes get comes later, tap and track stay
 * where they are. To whatever processes a source this stands in the mixer's place.
 */
export interface Offsets extends Pick<Mixer, 'takeFrom'> {
  set(offsets: readonly CompiledOffset[]): void;
  process(length: number): void;
}

export interface OffsetsOptions {
  inputs: readonly KernelStereo[];
  /** One for each source: what its mixes hear while it is delayed. */
  delayed: readonly KernelStereo[];
  mixer: Mixer;
  maxBlock: number;
  sampleRate: number;
}

/** From one delay to another without a click. */
const FADE_SECONDS = 0.01;

/** One source's delay line. */
interface Line {
  left: Float32Array;
  right: Float32Array;
  at: number;
  /** Samples; while a change fades, what it was and what it becomes. */
  from: number;
  to: number;
  /** Samples of the fade that are done. */
  faded: number;
}

export function createOffsets({ inputs, delayed, mixer, maxBlock, sampleRate }: OffsetsOptions): Offsets {
  const capacity = Math.ceil((MOST_OFFSET_MS / 1000) * sampleRate) + maxBlock;
  const fadeLength = Math.round(FADE_SECONDS * sampleRate);
  const lines: (Line | null)[] = inputs.map(() => null);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);

  const delay = (line: Line, input: Stereo, output: Stereo, length: number): void => {
    for (let i = 0; i < length; i++) {
      line.left[line.at] = input.left[i];
      line.right[line.at] = input.right[i];
      const now = (line.at + capacity - line.to) % capacity;
      if (line.faded < fadeLength) {
        const before = (line.at + capacity - line.from) % capacity;
        const share = ++line.faded / fadeLength;
        output.left[i] = line.left[before] + share * (line.left[now] - line.left[before]);
        output.right[i] = line.right[before] + share * (line.right[now] - line.right[before]);
      } else {
        output.left[i] = line.left[now];
        output.right[i] = line.right[now];
      }
      line.at = line.at + 1 === capacity ? 0 : line.at + 1;
    }
  };

  return {
    takeFrom(source, place) {
      upstream[source] = place;
      if (!lines[source]) mixer.takeFrom(source, place);
    },
    set(offsets) {
      for (let n = 0; n < lines.length; n++) {
        const samples = offsets.find(({ source }) => source === n)?.samples ?? 0;
        let line = lines[n];
        if (!line) {
          if (samples === 0) continue;
          line = lines[n] = { left: new Float32Array(capacity), right: new Float32Array(capacity), at: 0, from: 0, to: 0, faded: fadeLength };
          mixer.takeFrom(n, delayed[n]);
        }
        if (line.to === samples) continue;
        line.from = line.to;
        line.to = samples;
        line.faded = 0;
      }
    },
    process(length) {
      for (let n = 0; n < lines.length; n++) {
        const line = lines[n];
        if (!line) continue;
        delay(line, upstream[n] ?? inputs[n], delayed[n], length);
        if (line.to > 0 || line.faded < fadeLength) continue;
        lines[n] = null;
        mixer.takeFrom(n, upstream[n]);
      }
    },
  };
}
