import type pg from 'pg';
import { z } from '@/core/zod';
import { differenceInWords } from '@/core/hearing/plan-difference';
import { planText, readStoredPlan } from '@/core/hearing/stored-plan';
import { fromTheBeginning, keptHandsSchema, type placedPlanSchema, type PlanInForce } from '@/core/takes/plan-log';
import { inTransaction, type Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { insertGap, listTracks, lockTake, type Gap } from './queries';

type PlacedPlan = z.infer<typeof placedPlanSchema>;

const planRow = z.object({
  atSample: z.coerce.number(),
  plan: z.unknown().transform(readStoredPlan),
  hands: keptHandsSchema,
  rampSeconds: z.number().nullable(),
});

const asInForce = (row: unknown): PlanInForce => {
  const { rampSeconds, ...entry } = planRow.parse(row);
  return { ...entry, ...(rampSeconds === null ? {} : { rampSeconds }) };
};

const ENTRY = 'select at_sample as "atSample", plan, hands, ramp_seconds as "rampSeconds" from take_plan_change';

/** What was in force when a take began, and what came into force later, in order. @throws {HttpError} 404 */
export async function takeLog(db: Querier, take: string): Promise<{ begin: PlanInForce; changes: PlanInForce[] }> {
  const { rows: takes } = await db.query<{ plan: unknown; hands: unknown }>('select plan, hands from take where id = $1', [take]);
  if (takes.length === 0) throw notFound('take');
  const { rows } = await db.query(`${ENTRY} where take_id = $1 order by place`, [take]);
  const log = fromTheBeginning(readStoredPlan(takes[0].plan), rows.map(asInForce));
  return rows.length > 0 ? log : { ...log, begin: { ...log.begin, hands: keptHandsSchema.parse(takes[0].hands) } };
}

/** So many changes are shown with a take; a fader that is ridden makes thousands. */
const MOST_SHOWN = 400;

/** Changes of what anybody hears, in words, evenly taken from all of them. */
export async function listPlanWords(db: Querier, take: string): Promise<{ atSample: number; words: string }[]> {
  const { rows } = await db.query<{ at_sample: string; words: string }>(
    `select at_sample, words from (
       select at_sample, words, place, row_number() over (order by place) as number, count(*) over () as all_of_them
         from take_plan_change where take_id = $1 and at_sample > 0 and words is not null) numbered
      where number % (1 + all_of_them / ${MOST_SHOWN}) = 0 order by place`,
    [take],
  );
  return rows.map(({ at_sample, words }) => ({ atSample: Number(at_sample), words }));
}

/** Keeps part of a take's log; what is there already stays as it is. @throws {HttpError} 404, 409 or 422 */
export async function keepLog(pool: pg.Pool, take: string, { plans, gaps }: { plans: readonly PlacedPlan[]; gaps: readonly Gap[] }): Promise<void> {
  await inTransaction(pool, async (client) => {
    const { state } = await lockTake(client, take, 'shared');
    if (state === 'sealed') throw new HttpError(409, 'take-sealed', 'This take is sealed; nothing can be added to it.');
    await keepPlans(client, take, plans);
    await keepGaps(client, take, gaps);
  });
}

async function keepPlans(db: Querier, take: string, plans: readonly PlacedPlan[]): Promise<void> {
  if (plans.length === 0) return;
  const inOrder = [...plans].sort((a, b) => a.place - b.place);
  const { rows } = await db.query(`${ENTRY} where take_id = $1 and place < $2 order by place desc limit 1`, [take, inOrder[0].place]);
  let before: PlanInForce | null = rows.length === 0 ? null : asInForce(rows[0]);
  for (const entry of inOrder) {
    const words = before && differenceInWords(before, entry);
    await db.query(
      `insert into take_plan_change (take_id, place, at_sample, plan, hands, ramp_seconds, words) values ($1, $2, $3, $4, $5, $6, $7)
       on conflict do nothing`,
      [take, entry.place, entry.atSample, planText(entry.plan), JSON.stringify(entry.hands), entry.rampSeconds ?? null, words],
    );
    before = entry;
  }
}

/** @throws {HttpError} 422 for a gap of another take's track */
export async function keepGaps(db: Querier, take: string, gaps: readonly Gap[]): Promise<void> {
  if (gaps.length === 0) return;
  const known = new Set((await listTracks(db, take)).map(({ id }) => id));
  if (gaps.some(({ track }) => !known.has(track))) throw new HttpError(422, 'gap', 'A gap names a track of another take.');
  for (const gap of gaps) await insertGap(db, gap);
}
