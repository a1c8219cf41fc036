import { askedTaskSchema } from '@/core/tasks/task';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { takeParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { askFor } from '@/server/jobs/ask-for';
import { findTask, listTasks } from '@/server/jobs/tasks';
import { requireSealed } from '@/server/takes/sealed';
import { findTake } from '@/server/takes/queries';

/** What was asked of a take, newest first, and how far it is. */
export const GET = route({ right: 'watch', params: takeParams }, async ({ params }) => Response.json(await listTasks(database(), params.take)));

/** Asks for a check, an export or a repair. */
export const POST = route({ right: 'work', params: takeParams }, async ({ params, request, account, show }) => {
  const task = await readJson(request, askedTaskSchema, 16_384);
  const take = await findTake(database(), params.take);
  requireSealed(take);
  const id = await askFor(database(), params.take, task);
  if (task.kind === 'export') await noteEvent(database(), account, show, 'export', `exported take ${take.number}: ${task.params.what} as ${task.params.file}`);
  return Response.json(await findTask(database(), params.take, id), { status: 202 });
});
