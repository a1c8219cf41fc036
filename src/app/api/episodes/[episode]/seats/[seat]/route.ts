import { database, inTransaction } from '@/server/database';
import { revokeInvitation } from '@/server/access/invitations';
import { endRelayed } from '@/server/message-box/relay-console';
import { seatParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';
import { changeSeat, removeSeat, seatChangeSchema } from '@/server/seats/queries';
import { closeWindow } from '@/server/windows/queries';

/** Puts a seat on another line, or changes how its line is coded. */
export const PUT = route({ right: 'invite', params: seatParams }, async ({ params, request }) => {
  const change = await readJson(request, seatChangeSchema, 4096);
  await inTransaction(database(), async (client) => {
    await changeSeat(client, params.episode, params.seat, change);
    if (change.line && change.line !== 'link') await shut(client, params.episode, params.seat);
  });
  if (change.line && change.line !== 'link') await endRelayed(params.episode, params.seat);
  return Response.json(change);
});

/** Takes somebody out of the episode, and out of the call. Their tracks stay. */
export const DELETE = route({ right: 'invite', params: seatParams }, async ({ params }) => {
  await inTransaction(database(), async (client) => {
    await shut(client, params.episode, params.seat);
    await removeSeat(client, params.episode, params.seat);
  });
  await endRelayed(params.episode, params.seat);
  return Response.json({ removed: params.seat });
});

async function shut(client: Parameters<typeof revokeInvitation>[0], episode: string, seat: string): Promise<void> {
  await revokeInvitation(client, episode, seat);
  await closeWindow(client, episode, seat);
}
