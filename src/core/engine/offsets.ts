import { DelayLine } from '../dsp/delay-line';
import type { CompiledOffset } from '../hearing/offset';
import { MOST_OFFSET_MS } from '../hearing/source-treatment';
import type { KernelStereo } from '../kernel/kernel';
import type { Mixer } from './mixer';

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
  mixer: Pick<Mixer, 'takeFrom'>;
  sampleRate: number;
}

export function createOffsets({ inputs, delayed, mixer, sampleRate }: OffsetsOptions): Offsets {
  const most = Math.ceil((MOST_OFFSET_MS / 1000) * sampleRate);
  const lines: (DelayLine | null)[] = inputs.map(() => null);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);

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
          line = lines[n] = new DelayLine(most, sampleRate);
          mixer.takeFrom(n, delayed[n]);
        }
        line.set(samples);
      }
    },
    process(length) {
      for (let n = 0; n < lines.length; n++) {
        const line = lines[n];
        if (!line) continue;
        line.process(upstream[n] ?? inputs[n], delayed[n], length);
        if (!line.idle) continue;
        lines[n] = null;
        mixer.takeFrom(n, upstream[n]);
      }
    },
  };
}
