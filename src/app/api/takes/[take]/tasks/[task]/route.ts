import { database } from '@/server/database';
import { taskParams } from '@/server/http/params';
import { route } from '@/server/http/route';
import { cancelTask } from '@/server/jobs/tasks';

/** Stops a task that waits or runs. */
export const DELETE = route({ right: 'work', params: taskParams }, async ({ params }) => {
  await cancelTask(database(), params.take, params.task);
  return new Response(null, { status: 204 });
});
