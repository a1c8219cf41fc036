import { createEngine } from '../engine/engine';
import type { Suppressor } from '../engine/strip/noise-suppression';
import { compilePlan } from '../hearing/compile';
import { sourcesOf } from '../hearing/plan';
import { asOnAir, type PlanInForce } from './plan-log';

/** A recorded source on its way into a mix. */
export interface RemixTrack {
  /** As the plan names it. */
  recorded: string;
  channels: 1 | 2;
}

export interface RemixRequest {
  tracks: readonly RemixTrack[];
  /** What was in force at the take's beginning, and what came into force later. */
  begin: PlanInForce;
  changes: readonly PlanInForce[];
}

/** Whether any voice's noise was suppressed on its way into the mixes. */
export const needsSuppressors = ({ begin, changes }: RemixRequest): boolean =>
  [begin, ...changes].some(({ plan }) => Object.values(plan.processing).some((strip) => strip?.noise.on));

/** The program made anew from isolated tracks, piece by piece. */
export interface Remix {
  /** The next samples of every track, in the order given; left and right come out. */
  process(tracks: readonly (readonly Float32Array[])[], length: number): [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];
}

const BLOCK = 128;

/**
 * Plays tracks through the engine by the plan of their take, plan changes at their samples, as it was on air.
 * @param suppressors where {@link needsSuppressors}: without them such voices pass as they are
 */
export function createRemix({ tracks, begin, changes: all }: RemixRequest, suppressors?: () => Suppressor): Remix {
  const changes = [...all].sort((a, b) => a.atSample - b.atSample);
  const engine = createEngine({ sources: tracks.length, listeners: 1, maxBlock: BLOCK });
  const compiled = ({ plan: one, hands }: PlanInForce) => {
    const sources = tracks.map(({ recorded }) => sourcesOf(one).find(({ id }) => id === recorded)?.id ?? ('voice:not-there' as const));
    return compilePlan(one, { onAir: asOnAir(hands), slots: { sources, listeners: ['program'] } });
  };
  const known = new Set<string>([begin, ...changes].flatMap(({ plan }) => sourcesOf(plan).map(({ id }) => id)));
  if (!tracks.some(({ recorded }) => known.has(recorded))) throw new RangeError('None of these tracks is in the plan.');
  if (suppressors) engine.suppressWith(suppressors);
  engine.setPlan(compiled(begin), 0);
  let at = 0;
  return {
    process(blocks, length) {
      const left = new Float32Array(length);
      const right = new Float32Array(length);
      for (let done = 0; done < length; ) {
        while (changes.length > 0 && changes[0].atSample <= at) {
          const next = changes.shift()!;
          engine.setPlan(compiled(next), next.rampSeconds);
        }
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
