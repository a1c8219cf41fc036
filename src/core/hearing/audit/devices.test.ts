import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryPlan } from '../../testing/arbitrary-plan';
import { WiredDesk } from '../../testing/wired-desk';
import { INPUT_CHANNELS, OUTPUT_CHANNELS } from '../../devices/device';
import { createRandom } from '../../random';
import { createPlan, listenersOf, sourcesOf, type HearingPlan, type Seat } from '../plan';
import type { WiredInput, WiredOutlet, Wiring } from '../wiring';
import { auditPlan } from './index';
import type { Mistake } from './finding';

const seat = (id: string, name: string, role: Seat['role'] = 'caller'): Seat => ({ id, name, role, line: 'pair', reflexive: 'themselves' });
const PLAN: HearingPlan = createPlan([seat('maren', 'Maren', 'host'), seat('tomasz', 'Tomasz'), seat('priya', 'Priya')], [], [{ id: 'stream', name: 'stream' }]);

const input = (source: WiredInput['source'], device: string, more: Partial<WiredInput> = {}): WiredInput => ({ source, device, name: device, cable: /cable/.test(device) ? device : null, here: true, channels: 'stereo', ...more });
const outlet = (listener: WiredOutlet['listener'], device: string, more: Partial<WiredOutlet> = {}): WiredOutlet => ({ id: listener.startsWith('return:') ? `line:${listener.slice(7)}` : listener, listener, device: `${device}/out`, name: device, cable: /cable/.test(device) ? device : null, here: true, channels: 'stereo', loudspeakers: /speakers/.test(device), ...more });

/** Two callers on two cables each, the host at an interface, a feed that leaves: nothing wrong. */
const RIGHT: Wiring = {
  known: true,
  inputs: [input('voice:maren', 'interface'), input('voice:tomasz', 'blue cable'), input('voice:priya', 'red cable')],
  outlets: [outlet('phones:maren', 'headphones'), outlet('return:tomasz', 'green cable'), outlet('return:priya', 'white cable'), outlet('feed:stream', 'yellow cable')],
  cameBack: [],
};
const change = ({ inputs = [], outlets = [] }: { inputs?: WiredInput[]; outlets?: WiredOutlet[] }): Wiring => ({
  ...RIGHT,
  inputs: [...RIGHT.inputs.filter(({ source }) => !inputs.some((one) => one.source === source)), ...inputs],
  outlets: [...RIGHT.outlets.filter(({ id }) => !outlets.some((one) => one.id === id)), ...outlets],
});
const without = (wiring: Wiring, ends: string[]): Wiring => ({ ...wiring, inputs: wiring.inputs.filter(({ source }) => !ends.includes(source)), outlets: wiring.outlets.filter(({ id }) => !ends.includes(id)) });

/** Whether anybody hears themselves, played block by block with every device around the desk, one voice at a time. */
function whoHearsThemselves(wiring: Wiring): string[] {
  return new WiredDesk(PLAN, wiring)
    .speakers()
    .filter(({ input: by, seat: speaker }) => {
      const desk = new WiredDesk(PLAN, wiring);
      const random = createRandom(5);
      let energy = 0;
      for (let block = 0; block < 60; block++) {
        const said = Float32Array.from({ length: 128 }, () => 0.01 * (random.next() - 0.5));
        desk.step(by, said);
        for (const x of desk.ears(speaker)) energy += x * x;
      }
      return energy > 0;
    })
    .map(({ seat: who }) => who);
}

const MISTAKES: [Mistake, Wiring, echoes: boolean][] = [
  ['both-ends-one-cable', change({ outlets: [outlet('return:tomasz', 'blue cable')] }), false],
  ['one-output-two-returns', change({ outlets: [outlet('return:priya', 'green cable')] }), true],
  ['return-at-own-phones', change({ outlets: [outlet('return:tomasz', 'headphones')] }), true],
  ['input-is-other-return', change({ inputs: [input('voice:priya', 'green cable')] }), false],
  ['input-used-twice', change({ inputs: [input('voice:priya', 'blue cable')] }), true],
  ['one-end-only', without(RIGHT, ['line:tomasz']), false],
  ['feed-into-input', change({ outlets: [outlet('feed:stream', 'blue cable')] }), true],
  ['phones-on-loudspeakers', change({ outlets: [outlet('phones:maren', 'desk speakers')] }), false],
];

describe('what is plugged in where', () => {
  it('is right when every line has two cables of its own: nothing is said, and nobody hears themselves', () => {
    expect(auditPlan(PLAN, undefined, RIGHT)).toMatchObject({ verdict: 'safe', findings: [] });
    expect(whoHearsThemselves(RIGHT)).toEqual([]);
  });

  it.each(MISTAKES)('%s is found, alone, and mended by each of its fixes', (mistake, wiring, echoes) => {
    const { findings, verdict } = auditPlan(PLAN, undefined, wiring);
    const own = findings.filter(({ kind }) => kind === 'device');
    expect(own.map((one) => one.mistake)).toEqual([mistake]);
    if (echoes) expect(whoHearsThemselves(wiring).length, 'as played').toBeGreaterThan(0);
    if (echoes) expect(verdict).not.toBe('safe');
    for (const fix of own[0].fixes) {
      const pulled = (fix.wiring ?? []).map((one) => (one.type === 'unplug-outlet' ? one.id : one.source));
      const mended = auditPlan(PLAN, undefined, without(wiring, pulled));
      expect(mended.findings.map((one) => one.mistake)).not.toContain(mistake);
      expect(whoHearsThemselves(without(wiring, pulled))).toEqual([]);
    }
  });

  it('gives two people on the two channels of one device no finding: neither hears the other’s side', () => {
    const wiring = change({
      inputs: [input('voice:tomasz', 'interface two', { channels: 'left' }), input('voice:priya', 'interface two', { channels: 'right' })],
      outlets: [outlet('return:tomasz', 'interface two', { channels: 'left' }), outlet('return:priya', 'interface two', { channels: 'right' })],
    });
    expect(auditPlan(PLAN, undefined, wiring).findings).toEqual([]);
    expect(whoHearsThemselves(wiring)).toEqual([]);
  });

  it('does not take the two channels of a cable for two ways: a program speaks into both and hears both', () => {
    const inputs = [input('voice:tomasz', 'red cable', { channels: 'left' }), input('voice:priya', 'red cable', { channels: 'right' })];
    const outlets = [outlet('return:tomasz', 'green cable', { channels: 'left' }), outlet('return:priya', 'green cable', { channels: 'right' })];
    const feeds = [outlet('program', 'yellow cable', { channels: 'left' }), outlet('feed:stream', 'yellow cable', { channels: 'right' })];
    const mistakes = (wiring: Wiring) => auditPlan(PLAN, undefined, wiring).findings.map((one) => one.mistake);
    expect(whoHearsThemselves(change({ inputs }))).toEqual(['tomasz', 'priya']);
    expect(mistakes(change({ inputs }))).toEqual(['input-used-twice']);
    expect(whoHearsThemselves(change({ outlets }))).toEqual(['tomasz', 'priya']);
    expect(mistakes(change({ outlets }))).toEqual(['one-output-two-returns']);
    // Two mixes that leave a program each, side by side, are chosen to be.
    expect(mistakes(change({ outlets: feeds }))).toEqual([]);
  });

  it('takes a sound that came back for proof that two ends are one cable, whatever they are called', () => {
    const { findings, verdict } = auditPlan(PLAN, undefined, { ...RIGHT, cameBack: [{ listener: 'return:tomasz', source: 'voice:tomasz', gainDb: -1, delayMs: 60 }] });
    expect(findings.map((one) => one.mistake)).toEqual(['both-ends-one-cable']);
    expect(verdict).not.toBe('safe');
  });

  it('knows of no dead end where a feed leaves by a device, and says nothing of devices it cannot see', () => {
    expect(auditPlan(PLAN, undefined, without(RIGHT, ['feed:stream'])).findings.map((one) => one.mistake)).toEqual(['listener-no-way-out']);
    expect(auditPlan(PLAN, undefined, { ...MISTAKES[1][1], known: false }).findings.map((one) => one.kind)).not.toContain('device');
  });

  it('is never called safe where somebody is heard to hear themselves, however it is plugged', () => {
    const devices = fc.constantFrom('interface', 'blue cable', 'green cable', 'red cable', 'headphones');
    const people = ['maren', 'tomasz', 'priya'];
    fc.assert(
      fc.property(fc.array(fc.tuple(devices, fc.constantFrom(...INPUT_CHANNELS)), { minLength: 3, maxLength: 3 }), fc.array(fc.tuple(devices, fc.constantFrom(...OUTPUT_CHANNELS)), { minLength: 3, maxLength: 3 }), (ins, outs) => {
        const wiring: Wiring = {
          known: true,
          inputs: people.map((who, k) => input(`voice:${who}`, ins[k][0], { channels: ins[k][1] })),
          outlets: people.map((who, k) => outlet(who === 'maren' ? 'phones:maren' : `return:${who}`, outs[k][0], { channels: outs[k][1] })),
          cameBack: [],
        };
        const callers = whoHearsThemselves(wiring).filter((who) => who !== 'maren');
        const { findings } = auditPlan(PLAN, undefined, wiring);
        if (callers.length > 0) expect(findings.filter(({ kind, urgent }) => kind === 'device' && urgent)).not.toEqual([]);
      }),
      { numRuns: 600 },
    );
  });

  it('is audited for every plan, whatever is plugged in', () => {
    fc.assert(
      fc.property(arbitraryPlan, fc.infiniteStream(fc.nat({ max: 4 })), (plan, numbers) => {
        const next = () => `device ${numbers.next().value} cable`;
        const wiring: Wiring = { known: true, inputs: sourcesOf(plan).map(({ id }) => input(id, next())), outlets: listenersOf(plan).map(({ id }) => outlet(id, next())), cameBack: [] };
        const { findings } = auditPlan(plan, undefined, wiring);
        expect(new Set(findings.map(({ key }) => key)).size).toBe(findings.length);
        for (const { sentence } of findings) expect(sentence).not.toMatch(/undefined|NaN/);
      }),
      { numRuns: 60 },
    );
  });
});
