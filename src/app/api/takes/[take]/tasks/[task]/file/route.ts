import { database } from '@/server/database';
import { fileBytes, findFile } from '@/server/exports/store-file';
import { taskParams } from '@/server/http/params';
import { rangedDownload } from '@/server/http/ranged-download';
import { route } from '@/server/http/route';

/** The file a task made. */
export const GET = route({ right: 'watch', params: taskParams }, async ({ params: { take, task }, request }) => {
  const file = await findFile(database(), take, task);
  return rangedDownload(request, { ...file, tag: task, pieces: (from, to) => fileBytes(database(), task, from, to) });
});
