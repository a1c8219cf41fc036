import { returnOf, voiceOf, type SourceId } from '../ids';
import { placeName } from '../names';
import type { OnAir } from '../on-air';
import type { HearingPlan } from '../plan';
import type { Finding } from './finding';

/** One thing that keeps sound away for the moment: at which places, and when it ends. */
export interface Resting {
  places: string[];
  until: string;
  /** The plan and the hands once this has ended, and nothing else has. */
  ended(): [HearingPlan, OnAir];
}

export function whatRests(plan: HearingPlan, onAir: OnAir): Resting[] {
  const { held, cough } = onAir;
  const without = <Item>(items: readonly Item[], one: Item): Item[] => items.filter((item) => item !== one);
  return [
    ...plan.waiting.map((seat): Resting => ({
      places: [voiceOf(seat), returnOf(seat)],
      until: `${placeName(plan, voiceOf(seat))} is let in`,
      ended: () => [{ ...plan, waiting: without(plan.waiting, seat) }, onAir],
    })),
    ...held.map((source): Resting => ({
      places: [source],
      until: `${placeName(plan, source)} is let into the mixes`,
      ended: () => [plan, { ...onAir, held: without(held, source) }],
    })),
    ...(Object.keys(cough) as SourceId[]).map((source): Resting => ({
      places: [source],
      until: `${placeName(plan, source)} is no longer muted by the cough key`,
      ended: () => [plan, { ...onAir, cough: Object.fromEntries(Object.entries(cough).filter(([id]) => id !== source)) }],
    })),
  ];
}

/**
 * What comes true as soon as something ends that rests: of all on its way, the first that is enough by itself, with what comes
 * true then; all of it where none is. The way of a finding is its loudest, and not always the one that opens first.
 */
export function firstToCome(judge: (then: [HearingPlan, OnAir]) => Finding[], resting: readonly Resting[], known: ReadonlySet<string>): (finding: Finding) => Finding {
  const findings = new Map<Resting, Finding[]>();
  const after = (one: Resting): Finding[] => {
    const found = findings.get(one) ?? judge(one.ended());
    findings.set(one, found);
    return found;
  };
  return (finding) => {
    const onPath = resting.filter(({ places }) => places.some((place) => finding.path.includes(place)));
    const reasons = onPath.length > 0 ? onPath : resting;
    for (const one of reasons.length > 1 ? reasons : []) {
      const soon = after(one).find(({ key }) => aboutOf(key) === aboutOf(finding.key) && !known.has(key));
      if (soon) return { ...soon, later: one.until };
    }
    return { ...finding, later: reasons.map(({ until }) => until).join(' and ') };
  };
}

/** What a finding is about, whatever harm it does there. */
const aboutOf = (key: string): string => key.slice(key.indexOf('/') + 1);
