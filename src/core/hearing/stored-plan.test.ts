import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbitraryPlan } from '../testing/arbitrary-plan';
import { auditPlan } from './audit/index';
import { compiledGain, compilePlan } from './compile';
import { PLAN_FORMAT, planText, readStoredPlan } from './stored-plan';

const FOLDER = 'src/core/hearing/fixtures';
const fixtures = readdirSync(FOLDER).sort();
const read = (file: string) => readStoredPlan(JSON.parse(readFileSync(join(FOLDER, file), 'utf8')));

describe('a plan that was written down', () => {
  it('has a fixture of every form there was', () => {
    expect(fixtures.map((file) => Number(/^plan-(\d+)/.exec(file)![1]))).toEqual(Array.from({ length: PLAN_FORMAT }, (_, k) => k + 1));
  });

  it.each(fixtures)('%s is read, means what it meant, and is written in the form of now', (file) => {
    const plan = read(file);
    const compiled = compilePlan(plan);
    // Tomasz hears the host by his rule and Priya 6 dB below by hand, 2 dB down; Priya herself is 3 dB up, and waits in later forms.
    expect(compiledGain(compiled, 'voice:maren', 'return:tomasz')).toBeCloseTo(10 ** (-2 / 20), 5);
    expect(compiledGain(compiled, 'voice:priya', 'return:tomasz')).toBeCloseTo(plan.waiting.includes('priya') ? 0 : 10 ** (-5 / 20), 5);
    expect(compiledGain(compiled, 'voice:tomasz', 'return:tomasz')).toBe(0);
    expect(auditPlan(plan).verdict).toBe(plan.couplings.length > 0 ? 'echo' : 'safe');
    expect(readStoredPlan(JSON.parse(planText(plan)))).toEqual(plan);
  });

  it('comes back as it was, whatever it holds', () => {
    fc.assert(
      fc.property(arbitraryPlan, (plan) => {
        expect(readStoredPlan(JSON.parse(planText(plan)))).toEqual(plan);
      }),
    );
  });

  it('of a newer version, or no plan at all, is refused in words', () => {
    expect(() => readStoredPlan({ ...read(fixtures[0]), format: PLAN_FORMAT + 1 })).toThrow('written by a newer version');
    for (const junk of [null, 7, 'plan', [], { format: 'x' }, { seats: 3 }]) expect(() => readStoredPlan(junk)).toThrow();
  });
});
