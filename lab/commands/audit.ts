import { readFileSync } from 'node:fs';
import { auditPlan, pathInWords } from '../../src/core/hearing/audit/index';
import { hearingPlanSchema } from '../../src/core/hearing/plan-schema';
import { parseOptions, UsageError } from '../arguments';

export const usage = 'lab audit --plan FILE [--json]';

/** Reads a plan with its couplings and says what the audit finds. The JSON is in docs/AUDIT.md. */
export function run(words: readonly string[]): object {
  const options = parseOptions(words, ['plan'], ['json']);
  const file = options.get('plan');
  if (!file) throw new UsageError('--plan is missing.');
  const result = hearingPlanSchema.safeParse(readJson(file));
  if (!result.success) {
    const [{ path, message }] = result.error.issues;
    throw new UsageError(`${file} is not a hearing plan: ${path.join('.') || 'the whole'} ${message}.`);
  }
  const plan = result.data;
  const began = performance.now();
  const { verdict, marginDb, loops, evidence, findings } = auditPlan(plan);
  return {
    verdict,
    /** Null where there is no loop: then nothing can ever grow. */
    marginDb: Number.isFinite(marginDb) ? marginDb : null,
    evidence,
    milliseconds: performance.now() - began,
    loops: loops.map(({ places, gainDb, delayMs }) => ({ path: places, gainDb, delayMs })),
    findings: findings.map((finding) => ({
      ...finding,
      pathInWords: pathInWords(plan, finding.path),
      accepted: plan.accepted[finding.key] ?? null,
    })),
  };
}

function readJson(file: string): unknown {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch (error) {
    throw new UsageError(`${file} cannot be read as JSON: ${(error as Error).message}`);
  }
}
