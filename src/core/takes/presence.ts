import type { GapCause } from './gaps';

interface TakeGap {
  track: string;
  atSample: number;
  lengthSamples: number;
  cause: GapCause;
}

/** Tracks of people who were not in the call at any moment of a take: their track is one gap from beginning to end. */
export function neverInCall(gaps: readonly TakeGap[], lengthSamples: number): Set<string> {
  const away = new Map<string, TakeGap[]>();
  for (const gap of gaps) if (gap.cause === 'not-in-call') away.set(gap.track, [...(away.get(gap.track) ?? []), gap]);
  return new Set([...away].filter(([, own]) => coversAll(own, lengthSamples)).map(([track]) => track));
}

/** Whether gaps leave nothing out between them; they may overlap. */
function coversAll(gaps: readonly TakeGap[], lengthSamples: number): boolean {
  let covered = 0;
  for (const { atSample, lengthSamples: length } of [...gaps].sort((a, b) => a.atSample - b.atSample)) {
    if (atSample > covered) return false;
    covered = Math.max(covered, atSample + length);
  }
  return lengthSamples > 0 && covered >= lengthSamples;
}
