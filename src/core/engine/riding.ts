import { Ducker } from '../dsp/ducker';
import { VoiceGate } from '../dsp/voice-gate';
import type { CompiledDucking } from '../hearing/ducking';
import type { KernelStereo } from '../kernel/kernel';
import type { Mixer } from './mixer';

/**
 * Takes sources under the voices, the last of what is done to them: what the mixes get of such a source is a copy with the
 * gain of the moment; its tap stays as it came in. To whatever processes a source this stands in the mixer's place.
 */
export interface Riding extends Pick<Mixer, 'takeFrom'> {
  set(ducking: readonly CompiledDucking[]): void;
  /** Follows the voices of a block and rides what has to go under them. */
  process(length: number): void;
  /** Gain by which the voices hold a source down now, linear. */
  gainNow(source: number): number;
}

export interface RidingOptions {
  inputs: readonly KernelStereo[];
  /** One for each source: what its mixes hear while it is ridden. */
  ridden: readonly KernelStereo[];
  next: Pick<Mixer, 'takeFrom'>;
  maxBlock: number;
  sampleRate: number;
}

export function createRiding({ inputs, ridden, next, maxBlock, sampleRate }: RidingOptions): Riding {
  const duckers = inputs.map(() => new Ducker(sampleRate));
  const gates = inputs.map(() => new VoiceGate(sampleRate));
  const gains = new Float32Array(maxBlock);
  /** What each source's last step gives. */
  const upstream: (KernelStereo | null)[] = inputs.map(() => null);
  const active = new Uint8Array(inputs.length);
  const isKey = new Uint8Array(inputs.length);
  const speaking = new Uint8Array(inputs.length);
  const threshold = new Float64Array(inputs.length).fill(Infinity);
  let rules: readonly CompiledDucking[] = [];

  const ride = (source: number, down: boolean, length: number): void => {
    const ducker = duckers[source];
    if (ducker.atRest(down)) {
      if (active[source] === 1) next.takeFrom(source, upstream[source]);
      active[source] = 0;
      return;
    }
    ducker.process(down, gains, length);
    const { left, right } = upstream[source] ?? inputs[source];
    const copy = ridden[source];
    for (let i = 0; i < length; i++) {
      copy.left[i] = left[i] * gains[i];
      copy.right[i] = right[i] * gains[i];
    }
    if (active[source] === 0) next.takeFrom(source, copy);
    active[source] = 1;
  };

  return {
    takeFrom(source, place) {
      upstream[source] = place;
      if (active[source] === 0) next.takeFrom(source, place);
    },
    set(ducking) {
      for (const { source } of rules) if (!ducking.some((rule) => rule.source === source)) duckers[source].set(null);
      rules = ducking;
      isKey.fill(0);
      threshold.fill(Infinity);
      for (const rule of rules) {
        duckers[rule.source].set(rule);
        for (const key of rule.keys) {
          isKey[key] = 1;
          // One gate a voice: the most sensitive of those who ask for it.
          threshold[key] = Math.min(threshold[key], rule.thresholdDb);
        }
      }
    },
    process(length) {
      for (let n = 0; n < inputs.length; n++) {
        if (isKey[n] === 1) speaking[n] = gates[n].process(inputs[n].left, length, threshold[n]) ? 1 : 0;
      }
      for (let k = 0; k < rules.length; k++) {
        const { source, keys } = rules[k];
        let down = false;
        for (let j = 0; j < keys.length; j++) if (speaking[keys[j]] === 1) down = true;
        ride(source, down, length);
      }
      // What no rule holds any more still comes up smoothly.
      for (let n = 0; n < inputs.length; n++) if (active[n] === 1 && !isRuled(n)) ride(n, false, length);
    },
    gainNow: (source) => duckers[source].gain(),
  };

  function isRuled(source: number): boolean {
    for (let k = 0; k < rules.length; k++) if (rules[k].source === source) return true;
    return false;
  }
}
