import { Decimator } from '../dsp/decimator';
import type { Engine } from '../engine/engine';

/** Where what the loop guard compares is written, both at 8 kHz, place by place. */
export interface GuardRing {
  share: Float32Array;
  call: Float32Array;
  /** Samples were written up to this many since the beginning. */
  advance(samples: number): void;
}

/** Taps one share and the sum of everything else for the loop guard. */
export interface GuardTap {
  /** @param share place of the share in the engine; -1 for none */
  follow(share: number): void;
  /** After the sources of a block are filled. */
  process(length: number): void;
}

export function createGuardTap(engine: Engine, maxBlock: number, ring: GuardRing): GuardTap {
  const size = ring.share.length;
  const sum = new Float32Array(maxBlock);
  const shared = new Float32Array(maxBlock);
  const outShare = new Float32Array(maxBlock);
  const outCall = new Float32Array(maxBlock);
  let [ofShare, ofCall] = [new Decimator(), new Decimator()];
  let share = -1;
  let place = 0;

  return {
    follow(next) {
      if (next === share) return;
      share = next;
      // What was heard before has nothing to do with this share.
      ring.share.fill(0);
      ring.call.fill(0);
      [ofShare, ofCall] = [new Decimator(), new Decimator()];
    },
    process(length) {
      if (share < 0) return;
      sum.fill(0, 0, length);
      for (let n = 0; n < engine.inputs.length; n++) {
        if (n === share) continue;
        const { left, right } = engine.inputs[n];
        for (let i = 0; i < length; i++) sum[i] += left[i] + right[i];
      }
      const { left, right } = engine.inputs[share];
      for (let i = 0; i < length; i++) shared[i] = left[i] + right[i];
      const made = ofShare.process(shared, length, outShare);
      ofCall.process(sum, length, outCall);
      for (let i = 0; i < made; i++) {
        ring.share[place] = outShare[i];
        ring.call[place] = outCall[i];
        place = (place + 1) % size;
      }
      ring.advance(made);
    },
  };
}
