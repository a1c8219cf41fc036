import { z } from '@/core/zod';
import { boardSchema } from '@/core/sounds/board';
import { listBoards, storeBoard } from '@/server/boards/queries';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const boardBody = z.object({ name: z.string().trim().min(1).max(60), pads: boardSchema });

export const GET = route({ right: 'watch', params: showParams }, async ({ params }) => Response.json(await listBoards(database(), params.show)));

/** Keeps a board for later episodes of the show. */
export const PUT = route({ right: 'work', params: showParams }, async ({ params, request }) => {
  const board = await readJson(request, boardBody, 65536);
  await storeBoard(database(), params.show, board);
  return Response.json({ name: board.name });
});
