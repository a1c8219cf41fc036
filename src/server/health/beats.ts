import type { Querier } from '../database';

export type ProcessKind = 'worker' | 'sender';
const SAY_EVERY_MS = 5000;
/** Whoever said nothing for so long does not run. */
const GONE_SECONDS = 20;

/** Says that a process lives, until the returned function is called. */
export function sayAlive(db: Querier, id: string, kind: ProcessKind): () => void {
  // A database that is away is told again in a moment.
  const say = () =>
    void db.query('insert into process_beat (id, kind) values ($1, $2) on conflict (id) do update set seen_at = now()', [id, kind]).catch(() => undefined);
  say();
  const timer = setInterval(say, SAY_EVERY_MS);
  return () => clearInterval(timer);
}

/** How many processes of each kind live. */
export async function whoLives(db: Querier): Promise<Record<ProcessKind, number>> {
  const { rows } = await db.query<{ kind: ProcessKind; count: number }>(`select kind, count(*)::int as count from process_beat where seen_at > now() - interval '${GONE_SECONDS} seconds' group by kind`);
  const count = (kind: ProcessKind) => rows.find((row) => row.kind === kind)?.count ?? 0;
  return { worker: count('worker'), sender: count('sender') };
}
