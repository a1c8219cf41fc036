import { VoiceStrip, type VoiceStripSettings } from '../dsp/voice-strip';
import type { CompiledProcessing } from '../hearing/processing';
import type { KernelStereo } from './kernel/kernel';
import type { Mixer, Stereo } from './mixer';

/**
 * Processes voices between tap and crosspoint: what the mixes get is a copy, the tap stays as it came in. To whatever comes
 * before it this stands in the mixer's place.
 */
export interface VoiceStrips extends Pick<Mixer, 'takeFrom'> {
  set(processing: readonly CompiledProcessing[]): void;
  process(length: number): void;
  /** A source as the mixes get it in this block. */
  processed(source: number): Stereo;
}

export interface VoiceStripsOptions {
  inputs: readonly KernelStereo[];
  /** One for each source. */
  copies: readonly KernelStereo[];
  mixer: Pick<Mixer, 'takeFrom'>;
  sampleRate: number;
}

const NOTHING: VoiceStripSettings = { lowCut: false, evenOut: false };

export function createVoiceStrips({ inputs, copies, mixer, sampleRate }: VoiceStripsOptions): VoiceStrips {
  const strips = inputs.map(() => new VoiceStrip(sampleRate));
  const active = new Uint8Array(inputs.length);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);
  return {
    takeFrom(source, place) {
      upstream[source] = place;
      if (active[source] === 0) mixer.takeFrom(source, place);
    },
    set(processing) {
      strips.forEach((strip, source) => strip.set(processing.find((one) => one.source === source) ?? NOTHING));
    },
    process(length) {
      for (let n = 0; n < inputs.length; n++) {
        const strip = strips[n];
        if (strip.atRest()) {
          if (active[n] === 1) mixer.takeFrom(n, upstream[n]);
          active[n] = 0;
          continue;
        }
        const from = upstream[n] ?? inputs[n];
        strip.process(from.left, from.right, copies[n].left, copies[n].right, length);
        if (active[n] === 0) mixer.takeFrom(n, copies[n]);
        active[n] = 1;
      }
    },
    processed: (source) => (active[source] === 1 ? copies[source] : (upstream[source] ?? inputs[source])),
  };
}
