import fc from 'fast-check';
import { earsOf, type ListenerId, type SourceId } from '../hearing/ids';
import { operandFor } from '../hearing/operands';
import type { Ducking } from '../hearing/ducking';
import { COUPLING_KINDS, type Coupling, type CouplingFrom, type CouplingTo } from '../hearing/coupling';
import { CLOSED_STRIP, STRIP_RANGES, type StripSettings } from '../strip/settings';
import {
  createPlan,
  HEARING_RULES,
  isSound,
  LINE_KINDS,
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

const seats = fc.record({ callers: fc.integer({ min: 0, max: 6 }), producers: fc.integer({ min: 0, max: 2 }) }).chain(({ callers, producers }) => {
  const guests = Array.from({ length: callers }, (_, k): Seat => ({ id: `caller-${k}`, name: `Caller ${k}`, role: 'caller', line: 'practice', reflexive: 'herself' }));
  const side = Array.from({ length: producers }, (_, k): Seat => ({ id: `producer-${k}`, name: `Producer ${k}`, role: 'producer', line: 'link', reflexive: 'himself' }));
  const all: Seat[] = [{ id: 'host', name: 'Host', role: 'host', line: 'pair', reflexive: 'themselves' }, ...guests, ...side];
  return fc
    .tuple(fc.array(fc.constantFrom(...LINE_KINDS), { minLength: all.length, maxLength: all.length }), fc.array(fc.option(fc.nat({ max: all.length - 1 })), { minLength: all.length, maxLength: all.length }), fc.array(fc.option(fc.constantFrom<string[]>(['Ana', 'Ben'], ['Ana', 'Ben', 'Cem'])), { minLength: all.length, maxLength: all.length }))
    .map(([lines, sameAs, people]) => all.map((seat, k): Seat => ({ ...seat, line: lines[k], ...(people[k] !== null && { people: [...people[k]] }), ...(sameAs[k] === null || sameAs[k] === k ? {} : { person: all[sameAs[k]].person ?? all[sameAs[k]].id }) })));
});

const ducking: fc.Arbitrary<Ducking> = fc.record({
  on: fc.boolean(),
  under: fc.option(fc.uniqueArray(fc.constantFrom('host', 'caller-0', 'caller-1'))),
  thresholdDb: fc.integer({ min: -80, max: 0 }),
  depthDb: fc.integer({ min: 0, max: 60 }),
  attackMs: fc.integer({ min: 10, max: 5000 }),
  holdMs: fc.integer({ min: 0, max: 10_000 }),
  releaseMs: fc.integer({ min: 10, max: 10_000 }),
});

const named = (prefix: string, count: number) => Array.from({ length: count }, (_, k) => ({ id: `${prefix}-${k}`, name: `${prefix} ${k}` }));

/** Couplings between any two places of a plan, noted or measured. */
function couplingsOf(plan: HearingPlan): fc.Arbitrary<Coupling[]> {
  const ears = plan.seats.map(({ id }) => earsOf(id));
  const sources = sourcesOf(plan).map(({ id }) => id);
  const coupling = fc.record({
    kind: fc.constantFrom(...COUPLING_KINDS),
    from: fc.constantFrom<CouplingFrom[]>(...sources, ...listenersOf(plan).map(({ id }) => id), ...ears),
    to: fc.constantFrom<CouplingTo[]>(...sources, ...ears),
    gainDb: fc.integer({ min: -100, max: 40 }),
    delayMs: fc.integer({ min: 0, max: 10_000 }),
    measured: fc.boolean(),
  });
  return fc.array(coupling, { maxLength: 4 }).map((all) => all.filter(({ from, to }) => from !== to).map((one, k) => ({ id: `coupling-${k}`, ...one })));
}

/** Never −0: what is written down comes back as 0. */
const within = ([least, most]: readonly [number, number]) => fc.double({ min: least, max: most, noNaN: true }).map((value) => value + 0);

type Ranges = Record<string, readonly [number, number]>;
const inRanges = <R extends Ranges>(ranges: R): fc.Arbitrary<{ [Name in keyof R]: number }> =>
  fc.tuple(...Object.values(ranges).map(within)).map((values) => Object.fromEntries(Object.keys(ranges).map((name, k) => [name, values[k]])) as { [Name in keyof R]: number });

const insert = <R extends Ranges>(ranges: R) => fc.tuple(fc.boolean(), inRanges(ranges)).map(([on, settings]) => ({ on, ...settings }));

/** Any strip a host can set. */
export const arbitraryStrip: fc.Arbitrary<StripSettings> = fc.record({
  lowCut: insert(STRIP_RANGES.lowCut),
  noise: fc.record({ on: fc.boolean() }),
  gate: insert(STRIP_RANGES.gate),
  equaliser: fc.record({ on: fc.boolean(), bands: fc.array(inRanges(STRIP_RANGES.band), { minLength: CLOSED_STRIP.equaliser.bands.length, maxLength: CLOSED_STRIP.equaliser.bands.length }) }),
  compressor: insert(STRIP_RANGES.compressor),
  deEsser: insert(STRIP_RANGES.deEsser),
  limiter: insert(STRIP_RANGES.limiter),
});

/** Any plan a host can make: people on any lines, one person on several, players, shares, inputs, feeds, groups, rules, levels, exceptions and the world outside. */
export const arbitraryPlan: fc.Arbitrary<HearingPlan> = fc
  .tuple(seats, fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 2 }), fc.integer({ min: 0, max: 2 }), fc.array(fc.boolean(), { maxLength: 2 }))
  .chain(([people, players, feeds, shares, inputs]) => {
    const base = createPlan(people, named('player', players), named('feed', feeds), named('share', shares), named('input', inputs.length).map((input, k) => ({ ...input, stereo: inputs[k] })));
    const sources = sourcesOf(base);
    const listeners = listenersOf(base);
    const places = listeners.flatMap((listener) =>
      sources.flatMap((source) => (operandFor(source, listener) ? [{ listener: listener.id, source: source.id }] : [])),
    );
    const crosspoint = fc.record({ open: fc.boolean(), gainDb: level });
    const callers = people.filter(({ role }) => role === 'caller').map(({ id }) => id);
    return fc
      .record({
        sources: settingsFor<SourceId, SourceSettings>(
          sources.map(({ id }) => id),
          fc.record({
            on: fc.boolean(),
            trimDb: level,
            balance: fc.constantFrom(-1, -0.3, 0, 0, 0.5, 1),
            offsetMs: fc.constantFrom(0, 0, 0.5, 37, 2000),
            offIn: fc.uniqueArray(fc.constantFrom(...LISTENER_KINDS), { maxLength: 2 }),
          }),
        ),
        listeners: settingsFor<ListenerId, ListenerSettings>(
          listeners.map(({ id }) => id),
          fc.record({ rule: fc.constantFrom(...HEARING_RULES), levelDb: level, asTheyCome: fc.boolean() }),
        ),
        processing: settingsFor<SourceId, StripSettings>(
          sources.flatMap(({ id, kind }) => (kind === 'talkback' ? [] : [id])),
          arbitraryStrip,
        ),
        ducking: settingsFor<SourceId, Ducking>(
          sources.filter(isSound).map(({ id }) => id),
          ducking,
        ),
        groups: fc.array(fc.subarray(people.map(({ id }) => id), { minLength: 1 }), { maxLength: 2 }).map((all) => all.map((members, k) => ({ id: `group-${k}`, name: `Group ${k}`, seats: members }))),
        couplings: couplingsOf(base),
        accepted: fc.dictionary(fc.constantFrom('echo/a', 'double/b'), fc.constant('meant')).map((all) => ({ ...all })),
        waiting: fc.subarray(callers),
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
