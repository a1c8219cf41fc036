import fc from 'fast-check';
import type { ListenerId, SourceId } from '../hearing/ids';
import { operandFor } from '../hearing/operands';
import type { VoiceProcessing } from '../hearing/processing';
import {
  createPlan,
  HEARING_RULES,
  LISTENER_KINDS,
  listenersOf,
  sourcesOf,
  type HearingPlan,
  type ListenerSettings,
  type Seat,
  type SourceSettings,
} from '../hearing/plan';

// Without minus zero, which JSON cannot carry.
const level = fc.double({ min: -60, max: 12, noNaN: true }).map((db) => db + 0);

const seats = fc.integer({ min: 0, max: 6 }).map((callers): Seat[] => [
  { id: 'host', name: 'Host', role: 'host', line: 'pair', reflexive: 'themselves' },
  ...Array.from({ length: callers }, (_, k): Seat => ({
    id: `caller-${k}`,
    name: `Caller ${k}`,
    role: 'caller',
    line: 'practice',
    reflexive: 'herself',
  })),
]);

/** Any plan a host can make: people, players, feeds, rules, levels and exceptions. */
export const arbitraryPlan: fc.Arbitrary<HearingPlan> = fc
  .tuple(seats, fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 2 }))
  .chain(([people, players, feeds]) => {
    const base = createPlan(
      people,
      Array.from({ length: players }, (_, k) => ({ id: `player-${k}`, name: `Player ${k}` })),
      Array.from({ length: feeds }, (_, k) => ({ id: `feed-${k}`, name: `Feed ${k}` })),
    );
    const sources = sourcesOf(base);
    const listeners = listenersOf(base);
    const places = listeners.flatMap((listener) =>
      sources.flatMap((source) => (operandFor(source, listener) ? [{ listener: listener.id, source: source.id }] : [])),
    );
    const crosspoint = fc.record({ open: fc.boolean(), gainDb: level });
    return fc
      .record({
        sources: settingsFor<SourceId, SourceSettings>(
          sources.map(({ id }) => id),
          fc.record({
            on: fc.boolean(),
            trimDb: level,
            balance: fc.constant(0),
            offIn: fc.uniqueArray(fc.constantFrom(...LISTENER_KINDS), { maxLength: 2 }),
          }),
        ),
        listeners: settingsFor<ListenerId, ListenerSettings>(
          listeners.map(({ id }) => id),
          fc.record({ rule: fc.constantFrom(...HEARING_RULES), levelDb: level }),
        ),
        processing: settingsFor<SourceId, VoiceProcessing>(
          sources.flatMap(({ id, kind }) => (kind === 'voice' ? [id] : [])),
          fc.record({ lowCut: fc.boolean(), evenOut: fc.boolean() }),
        ),
        waiting: fc.subarray(people.filter(({ role }) => role === 'caller').map(({ id }) => id)),
        exceptions: fc.array(fc.tuple(fc.nat({ max: Math.max(0, places.length - 1) }), crosspoint), { maxLength: 12 }),
      })
      .map(({ exceptions, ...settings }): HearingPlan => {
        const plan: HearingPlan = { ...base, ...settings, exceptions: {} };
        for (const [place, setting] of places.length > 0 ? exceptions : []) {
          const { listener, source } = places[place];
          plan.exceptions[listener] = { ...plan.exceptions[listener], [source]: setting };
        }
        return plan;
      });
  });

function settingsFor<Id extends string, Settings>(ids: Id[], settings: fc.Arbitrary<Settings>) {
  return fc
    .array(fc.option(settings, { nil: undefined }), { minLength: ids.length, maxLength: ids.length })
    .map((values) => {
      const chosen: Partial<Record<Id, Settings>> = {};
      values.forEach((value, k) => {
        if (value !== undefined) chosen[ids[k]] = value;
      });
      return chosen;
    });
}
