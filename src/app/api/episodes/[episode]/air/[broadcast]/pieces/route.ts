import { MOST_PIECE_BYTES, pieceQuery } from '@/core/air/broadcast';
import { splitPackets } from '@/core/air/packets';
import { keepPiece } from '@/server/air/broadcasts';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { broadcastParams } from '@/server/http/params';
import { readBytes, route } from '@/server/http/route';

/** Takes the next packets of a stream; may be sent again. Answers how the stream goes. */
export const POST = route({ right: 'work', params: broadcastParams, query: pieceQuery }, async ({ params, query, request }) => {
  const packets = await readBytes(request, MOST_PIECE_BYTES);
  try {
    if (splitPackets(packets).length === 0) throw new RangeError('A piece of a stream holds no packets.');
  } catch (error) {
    throw new HttpError(400, 'not-packets', (error as Error).message);
  }
  return Response.json(await keepPiece(database(), params.episode, params.broadcast, query, packets));
});
