import { planText, readStoredPlan } from '@/core/hearing/stored-plan';
import type { HearingPlan } from '@/core/hearing/plan';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

export interface NamedPlan {
  name: string;
  plan: HearingPlan;
}

/** The plans a show keeps as starting points, by name. */
export async function listNamedPlans(db: Querier, show: string): Promise<NamedPlan[]> {
  const { rows } = await db.query<{ name: string; body: unknown }>(
    'select name, body from named_plan where show_id = $1 order by lower(name) limit 500',
    [show],
  );
  return rows.map(({ name, body }) => ({ name, plan: readStoredPlan(body) }));
}

/** Keeps a plan under a name; one of the same name is replaced. */
export async function storeNamedPlan(db: Querier, show: string, { name, plan }: NamedPlan): Promise<void> {
  const { rowCount } = await db.query(
    `insert into named_plan (show_id, name, body)
     select id, $2, $3 from show where id = $1
     on conflict (show_id, name) do update set body = excluded.body, stored_at = now()`,
    [show, name, planText(plan)],
  );
  if (rowCount === 0) throw notFound('show');
}
