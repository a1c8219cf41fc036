import type { HeldUp, Task, TaskData, TaskKind, TaskState } from '@/core/tasks/task';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';

/** After this long without a word a worker counts as gone, and another takes its task. */
const SILENT_SECONDS = 15;

interface TaskRow {
  id: string;
  kind: TaskKind;
  params: Task['params'];
  state: TaskState;
  progress: number;
  result: unknown;
  problem: string | null;
  asked_at: Date;
  held_up: HeldUp | null;
  before: number;
  file_name: string | null;
  length_bytes: string | null;
}

const TASK = `select task.id, kind, params, state, progress, result, problem, asked_at, held_up, file_name, length_bytes,
                     case when state = 'waiting' then (
                       select count(*) from task other where other.state = 'running' or (other.state = 'waiting' and other.asked_at < task.asked_at)) else 0 end::int as before
                from task left join export_file on task_id = task.id`;

const asData = (row: TaskRow): TaskData => ({
  id: row.id,
  kind: row.kind,
  params: row.params,
  state: row.state,
  progress: row.progress,
  result: row.result,
  problem: row.problem,
  askedAt: row.asked_at.toISOString(),
  heldUp: row.state === 'running' ? row.held_up : null,
  before: row.before,
  file: row.file_name === null || row.state !== 'done' ? null : { name: row.file_name, bytes: Number(row.length_bytes) },
});

/** Writes down that a task is wanted. One that waits already with the same words is the same task. */
export async function insertTask(db: Querier, take: string, task: Task): Promise<string> {
  const params = JSON.stringify(task.params);
  const { rows: same } = await db.query<{ id: string }>(
    `select id from task where take_id = $1 and kind = $2 and params = $3::jsonb and state in ('waiting', 'running')`,
    [take, task.kind, params],
  );
  if (same.length > 0) return same[0].id;
  const { rows } = await db.query<{ id: string }>('insert into task (take_id, kind, params) values ($1, $2, $3) returning id', [take, task.kind, params]);
  return rows[0].id;
}

/** Tasks of a take, newest first. */
export async function listTasks(db: Querier, take: string): Promise<TaskData[]> {
  const { rows } = await db.query<TaskRow & Record<string, unknown>>(`${TASK} where take_id = $1 order by asked_at desc limit 60`, [take]);
  return rows.map(asData);
}

/** @throws {HttpError} 404 */
export async function findTask(db: Querier, take: string, id: string): Promise<TaskData> {
  const { rows } = await db.query<TaskRow & Record<string, unknown>>(`${TASK} where take_id = $1 and task.id = $2`, [take, id]);
  if (rows.length === 0) throw notFound('task');
  return asData(rows[0]);
}

/** Takes a task that nobody works on. Null when it is done, or in good hands. */
export async function claimTask(db: Querier, id: string, worker: string): Promise<{ take: string; task: Task; ageMs: number } | null> {
  const { rows } = await db.query<{ take_id: string; kind: TaskKind; params: Task['params']; age: number }>(
    `update task set state = 'running', worker = $2, heard_at = now(), progress = 0, held_up = null, result = null
      where id = $1 and (state = 'waiting' or (state = 'running' and heard_at < now() - make_interval(secs => ${SILENT_SECONDS})))
      returning take_id, kind, params, (extract(epoch from now() - asked_at) * 1000)::float as age`,
    [id, worker],
  );
  return rows.length === 0 ? null : { take: rows[0].take_id, task: { kind: rows[0].kind, params: rows[0].params } as Task, ageMs: rows[0].age };
}

/** Says that the worker is alive and how far it is. False when the task is no longer its own. */
export async function reportProgress(db: Querier, id: string, worker: string, progress: number, heldUp: HeldUp | null = null): Promise<boolean> {
  const { rowCount } = await db.query(`update task set heard_at = now(), progress = $3, held_up = $4 where id = $1 and worker = $2 and state = 'running'`, [id, worker, progress, heldUp]);
  return rowCount === 1;
}

/** Keeps what is known so far as the result of a task that goes on. False when the task is no longer its own. */
export async function showFirst(db: Querier, id: string, worker: string, first: unknown): Promise<boolean> {
  const { rowCount } = await db.query(`update task set heard_at = now(), result = $3 where id = $1 and worker = $2 and state = 'running'`, [id, worker, JSON.stringify(first)]);
  return rowCount === 1;
}

export async function endTask(db: Querier, id: string, worker: string, end: { result: unknown } | { problem: string }): Promise<void> {
  const [state, result, problem] = 'result' in end ? ['done', JSON.stringify(end.result ?? null), null] : ['failed', null, end.problem];
  await db.query(
    `update task set state = $3, result = $4, problem = $5, ended_at = now(), progress = case when $3 = 'done' then 1 else progress end
      where id = $1 and worker = $2 and state = 'running'`,
    [id, worker, state, result, problem],
  );
}

/** @throws {HttpError} 409 when it has ended already */
export async function cancelTask(db: Querier, take: string, id: string): Promise<void> {
  const { rowCount } = await db.query(`update task set state = 'cancelled', result = null, ended_at = now() where take_id = $1 and id = $2 and state in ('waiting', 'running')`, [take, id]);
  if (rowCount === 1) return;
  await findTask(db, take, id);
  throw new HttpError(409, 'task-ended', 'This has ended already.');
}

/** Tasks that nobody works on, the oldest first: they wait, or their worker fell silent. */
export async function openTasks(db: Querier): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `select id from task where state = 'waiting' or (state = 'running' and heard_at < now() - make_interval(secs => ${SILENT_SECONDS})) order by asked_at`,
  );
  return rows.map(({ id }) => id);
}

/** The newest check of a take that was finished. */
export async function newestCheck(db: Querier, take: string): Promise<unknown> {
  const { rows } = await db.query<{ result: unknown }>(`select result from task where take_id = $1 and kind = 'check' and state = 'done' order by ended_at desc limit 1`, [take]);
  return rows[0]?.result ?? null;
}
