import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createRandom, type Random } from '../../random';
import { CoupledDesk } from '../../testing/coupled-desk';
import { declareCoupling, type Coupling } from '../coupling';
import { CLOSED_STRIP, withInsert } from '../../strip/settings';
import { arbitraryStrip } from '../../testing/arbitrary-plan';
import { setCrosspoint, setSource, setStrip } from '../edit';
import { voiceOf } from '../ids';
import { withSamePerson } from '../persons';
import { createPlan, type HearingPlan, type Seat } from '../plan';
import { applyChange, auditPlan, type Finding, type Mistake } from './index';
import { spectralRadius } from './stability';

const seat = (id: string, role: Seat['role'] = 'caller', person?: string): Seat => ({
  id,
  name: id[0].toUpperCase() + id.slice(1),
  role,
  line: 'practice',
  reflexive: 'herself',
  ...(person ? { person } : {}),
});

const base = createPlan(
  [seat('maren', 'host'), seat('odalys'), seat('tomasz'), seat('priya')],
  [{ id: 'effects', name: 'Sounds' }],
  [],
  [{ id: 'tab', name: 'Shared tab' }],
);
const withCoupling = (plan: HearingPlan, ...couplings: Coupling[]): HearingPlan => ({ ...plan, couplings });

describe('the margin', () => {
  it('agrees within 1 dB with what the engine and its surroundings really do, on 200 random graphs', () => {
    const random = createRandom(22);
    let checked = 0;
    let severalHops = 0;
    while (checked < 200) {
      const plan = randomCoupledPlan(random);
      const { marginDb, loops } = auditPlan(plan);
      if (!Number.isFinite(marginDb)) continue;
      checked++;
      if (loops.some(({ couplings }) => couplings.length > 1)) severalHops++;
      const words = JSON.stringify(plan.couplings);
      expect(grows(plan, marginDb - 1), `${marginDb} ${words}`).toBe(false);
      expect(grows(plan, marginDb + 1), `${marginDb} ${words}`).toBe(true);
    }
    expect(severalHops).toBeGreaterThan(40);
  });

  it('holds whatever strips raise: nothing below it grows, and make-up is counted in full', () => {
    const random = createRandom(31);
    const strips = fc.sample(arbitraryStrip, { numRuns: 60, seed: 31 });
    let checked = 0;
    while (checked < 60) {
      const plain = randomCoupledPlan(random);
      const strip = withInsert(strips[checked], 'noise', { on: false });
      // Half of them raise everything alike, and come out at the margin itself.
      const flat = withInsert(CLOSED_STRIP, 'compressor', { on: true, makeUpDb: strip.compressor.makeUpDb });
      const even = checked % 2 === 0;
      const plan = plain.seats.reduce((stripped, { id }) => setStrip(stripped, voiceOf(id), () => (even ? flat : strip)), plain);
      const { marginDb } = auditPlan(plan);
      if (!Number.isFinite(marginDb)) continue;
      checked++;
      expect(grows(plan, marginDb - 1), JSON.stringify(strip)).toBe(false);
      if (even) expect(grows(plan, marginDb + 1), JSON.stringify(strip)).toBe(true);
    }
  });

  it('is the spectral radius, of matrices whose radius is known', () => {
    expect(spectralRadius(Float64Array.of(0, 4, 1, 0))).toBeCloseTo(2, 2);
    expect(spectralRadius(Float64Array.of(0, 1, 0, 0))).toBe(0);
    expect(spectralRadius(Float64Array.of(0.5, 0.25, 0.5, 0.75))).toBeCloseTo(1, 2);
  });
});

function energyOf(samples: Float32Array): number {
  let energy = 0;
  for (let i = 0; i < samples.length; i++) energy += samples[i] * samples[i];
  return energy;
}

/** Whether sound grows by itself, by playing it: late energy against earlier energy after one click. */
function grows(plan: HearingPlan, couplingDb: number): boolean {
  const desk = new CoupledDesk(plan, couplingDb);
  const energyFor = (seconds: number): number => {
    let energy = 0;
    for (let block = 0; block < (seconds * 48000) / 64; block++) {
      desk.step((_, samples, clock) => {
        if (clock === 6400) samples[0] = 1e-12;
      });
      for (const { left } of desk.engine.inputs) energy += energyOf(left);
      // A loop may run from ears to ears, past the desk.
      for (const { id } of plan.seats) energy += energyOf(desk.ears(id));
    }
    return energy;
  };
  energyFor(1.6);
  const early = energyFor(0.4);
  energyFor(0.3);
  const late = energyFor(0.4);
  // What began as a click far below hearing and is now held by the limiters has grown.
  return late > early || late > 1;
}

/** A small desk with one to four couplings of any kind between random places. */
function randomCoupledPlan(random: Random): HearingPlan {
  const plan = createPlan([seat('a', 'host'), seat('b'), seat('c'), seat('d')], [], [{ id: 'f', name: 'Feed' }], [{ id: 's', name: 'Share' }]);
  const froms = ['phones:a', 'return:b', 'return:c', 'return:d', 'program', 'feed:f', 'ears:b', 'ears:c', 'ears:d'] as const;
  const tos = ['voice:a', 'voice:b', 'voice:c', 'voice:d', 'share:s', 'ears:b', 'ears:d'] as const;
  const couplings = Array.from({ length: 1 + random.index(4) }, (_, k): Coupling => ({
    ...declareCoupling('output-into-input', froms[random.index(froms.length)], tos[random.index(tos.length)]),
    id: `c${k}`,
    gainDb: random.between(-30, 3),
    delayMs: random.between(4, 30),
  }));
  let changed: HearingPlan = { ...plan, couplings: couplings.filter(({ from, to }) => from !== (to as string)) };
  for (let k = 0; k < 5; k++) {
    const source = (['voice:a', 'voice:b', 'share:s'] as const)[random.index(3)];
    const listener = (['return:c', 'return:d', 'program'] as const)[random.index(3)];
    changed = setCrosspoint(changed, source, listener, { open: random.next() < 0.6, gainDb: random.between(-12, 0) });
  }
  return changed;
}

interface Classic {
  mistake: Mistake;
  kind: Finding['kind'];
  plan: HearingPlan;
  /** Who suffers: hears themselves before the fix, and not after it. */
  victim?: string;
  says: RegExp;
}

const second = seat('odalys-phone', 'caller');
const classics: Classic[] = [
  {
    mistake: 'share-contains-call',
    kind: 'howl',
    plan: withCoupling(base, declareCoupling('share-contains', 'phones:maren', 'share:tab')),
    victim: 'odalys',
    says: /^Shared tab contains Maren’s phones, and so the call: a loop at 0 dB every 40 ms; it is howling\.$/,
  },
  {
    mistake: 'two-lines',
    // Nobody hears their own other line; everybody else hears the voice twice.
    kind: 'double',
    plan: withSamePerson({ ...base, seats: [...base.seats, second] }, 'odalys-phone', 'odalys'),
    says: /^Odalys and Odalys-phone are one person on two lines: Odalys and Odalys-phone arrive twice in Maren’s phones, Tomasz’s return, Priya’s return and the program, the second time 0 dB and 20 ms later, which sounds hollow\.$/,
  },
  {
    mistake: 'caller-on-loudspeakers',
    kind: 'echo',
    plan: withCoupling(base, declareCoupling('loudspeakers', 'ears:tomasz', 'voice:tomasz')),
    victim: 'odalys',
    says: /^Tomasz’s loudspeakers reach Tomasz’s microphone: Maren, Odalys and Priya hear themselves −18 dB after 240 ms\.$/,
  },
  {
    mistake: 'host-on-loudspeakers',
    kind: 'echo',
    plan: withCoupling(base, declareCoupling('loudspeakers', 'ears:maren', 'voice:maren')),
    victim: 'priya',
    says: /^Your loudspeakers reach your microphone: Odalys, Tomasz and Priya hear themselves −18 dB after 240 ms\.$/,
  },
  {
    mistake: 'other-mix-as-return',
    kind: 'echo',
    plan: withCoupling(base, declareCoupling('other-return', 'program', 'ears:priya')),
    victim: 'priya',
    says: /^Priya’s ears get the program in place of a return of their own: Priya hears herself 0 dB after 120 ms\.$/,
  },
  {
    mistake: 'far-system',
    kind: 'echo',
    plan: withCoupling(base, declareCoupling('far-system', 'return:tomasz', 'voice:tomasz')),
    victim: 'odalys',
    says: /^The system at Tomasz’s end sends Tomasz’s return back: Maren, Odalys and Priya hear themselves −3 dB after 300 ms\.$/,
  },
  {
    mistake: 'nobody-hears-caller',
    kind: 'dead-end',
    plan: setSource(base, 'voice:priya', { offIn: ['phones', 'return'] }),
    says: /^Nobody hears Priya in the call/,
  },
];

describe('each classic mistake', () => {
  it.each(classics)('$mistake is named, and its fix makes the sound clean', ({ mistake, kind, plan, victim, says }) => {
    const finding = auditPlan(plan).findings.find((one) => one.mistake === mistake && one.kind === kind);
    expect(finding?.sentence).toMatch(says);
    expect(finding!.urgent).toBe(true);
    const fixed = finding!.fixes[0].changes.reduce(applyChange, plan);
    expect(auditPlan(fixed).findings.filter((one) => one.mistake === mistake && one.urgent)).toEqual([]);
    if (victim) {
      // Measured in the engine with the couplings played around it, not in the graph.
      expect(new CoupledDesk(plan).ownClickDb(victim)).toBeGreaterThan(-40);
      expect(new CoupledDesk(fixed).ownClickDb(victim)).toBe(-Infinity);
    }
  });

  it('every further fix is as good as the first', () => {
    for (const { plan, mistake, victim } of classics) {
      for (const fix of auditPlan(plan).findings.filter((one) => one.mistake === mistake).flatMap(({ fixes }) => fixes)) {
        const fixed = fix.changes.reduce(applyChange, plan);
        if (victim) expect(new CoupledDesk(fixed).ownClickDb(victim), fix.label).toBe(-Infinity);
      }
    }
  });
});

describe('the audit', () => {
  it('finds nothing in a plan nobody has spoiled', () => {
    const { findings, verdict, marginDb } = auditPlan({ ...base, shares: [] });
    expect(findings).toEqual([]);
    expect(verdict).toBe('safe');
    expect(marginDb).toBe(Infinity);
  });

  it('tells hollow from echo where a source arrives twice', () => {
    const doubled = (delayMs: number) =>
      auditPlan(withCoupling(base, { ...declareCoupling('same-room', 'voice:odalys', 'voice:tomasz'), delayMs })).findings.find(({ kind }) => kind === 'double');
    expect(doubled(8)?.sentence).toContain('−20 dB and 8 ms later, which sounds hollow');
    expect(doubled(80)?.sentence).toContain('80 ms later, an echo');
  });

  it('says that the host hears themselves late, that an exception is idle, and that a listener hears nothing', () => {
    const own = auditPlan(setCrosspoint(base, 'voice:maren', 'phones:maren', { open: true, gainDb: 0 }));
    expect(own.findings[0]).toMatchObject({ kind: 'own-voice-late', mistake: 'own-voice-in-phones' });
    const idle = auditPlan(setCrosspoint(base, 'voice:maren', 'program', { open: true, gainDb: 0 }));
    expect(idle.findings).toMatchObject([{ mistake: 'idle-exception', urgent: false }]);
    const silent = auditPlan(applyChange(base, { type: 'close-listener', listener: 'return:priya' }));
    expect(silent.findings[0]).toMatchObject({ mistake: 'caller-hears-nobody', sentence: 'Priya hears nobody.' });
  });

  it('leaves a waiting caller in peace', () => {
    const plan = { ...base, waiting: ['priya'] };
    expect(auditPlan(plan).findings).toEqual([]);
  });
});
