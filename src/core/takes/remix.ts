import { createEngine } from '../engine/engine';
import { compilePlan } from '../hearing/compile';
import type { HearingPlan } from '../hearing/plan';
import { sourcesOf } from '../hearing/plan';

/** A recorded source on its way into a mix. */
export interface RemixTrack {
  /** As the plan names it. */
  recorded: string;
  channels: 1 | 2;
}

export interface RemixRequest {
  tracks: readonly RemixTrack[];
  /** The plan at the take's beginning, and those that came into force later. */
  plan: HearingPlan;
  planChanges: readonly { atSample: number; plan: HearingPlan }[];
}

/** The program made anew from isolated tracks, piece by piece. */
export interface Remix {
  /** The next samples of every track, in the order given; left and right come out. */
  process(tracks: readonly (readonly Float32Array[])[], length: number): [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];
}

const BLOCK = 128;

/** Plays tracks through the engine by the plan of their take, plan changes at their samples, as it was on air. */
export function createRemix({ tracks, plan, planChanges }: RemixRequest): Remix {
  const engine = createEngine({ sources: tracks.length, listeners: 1, maxBlock: BLOCK });
  const compiled = (one: HearingPlan) => {
    const known = new Set<string>(sourcesOf(one).map(({ id }) => id));
    const sources = tracks.map(({ recorded }) => sourcesOf(one).find(({ id }) => id === recorded)?.id ?? ('voice:not-there' as const));
    if (tracks.every(({ recorded }) => !known.has(recorded))) throw new RangeError('None of these tracks is in the plan.');
    return compilePlan(one, { slots: { sources, listeners: ['program'] } });
  };
  const changes = [...planChanges].sort((a, b) => a.atSample - b.atSample);
  engine.setPlan(compiled(plan), 0);
  let at = 0;
  return {
    process(blocks, length) {
      const left = new Float32Array(length);
      const right = new Float32Array(length);
      for (let done = 0; done < length; ) {
        while (changes.length > 0 && changes[0].atSample <= at) engine.setPlan(compiled(changes.shift()!.plan));
        const count = Math.min(BLOCK, length - done, (changes[0]?.atSample ?? Infinity) - at);
        blocks.forEach((channels, k) => {
          engine.inputs[k].left.set(channels[0].subarray(done, done + count));
          engine.inputs[k].right.set((channels[1] ?? channels[0]).subarray(done, done + count));
        });
        engine.process(count);
        left.set(engine.outputs[0].left.subarray(0, count), done);
        right.set(engine.outputs[0].right.subarray(0, count), done);
        at += count;
        done += count;
      }
      return [left, right];
    },
  };
}
