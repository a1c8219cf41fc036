import { z } from '@/core/zod';
import { noteEvent } from '@/server/audit/events';
import { issueInvitation, revokeInvitation } from '@/server/access/invitations';
import { database, inTransaction } from '@/server/database';
import { findEpisode, listSeats } from '@/server/episodes/queries';
import { seatParams } from '@/server/http/params';
import { notFound } from '@/server/http/errors';
import { endRelayed } from '@/server/message-box/relay-console';
import { publicAddress } from '@/server/http/public-address';
import { readJson, route } from '@/server/http/route';
import { calendarEntry, qrCode } from '@/server/seats/invitation-forms';
import { closeWindow } from '@/server/windows/queries';

const invitationBody = z.object({ days: z.number().int().min(1).max(90).default(7) });

/** Makes a link for a seat, with its QR code and calendar entry. It is told only here; an earlier one stops working. */
export const POST = route({ right: 'invite', params: seatParams }, async ({ params, request, account, show }) => {
  const { days } = await readJson(request, invitationBody, 1024);
  const { episode: id, seat } = params;
  const { token, expiresAt } = await inTransaction(database(), async (client) => {
    const invitation = await issueInvitation(client, id, seat, days);
    await closeWindow(client, id, seat);
    return invitation;
  });
  await endRelayed(id, seat);
  const [episode, seats] = [await findEpisode(database(), id), await listSeats(database(), id)];
  await noteEvent(database(), account, show, 'invitation', `made a link for ${seats.find((one) => one.id === seat)?.full_name ?? seat} in ${episode.title}`);
  const host = seats.find(({ role }) => role === 'host');
  const link = `${publicAddress(request.headers)}/join/${token}`;
  return Response.json(
    {
      link,
      expiresAt: expiresAt.toISOString(),
      qr: qrCode(link),
      calendar: calendarEntry({ episode, seat, link, host: host?.full_name ?? episode.show }),
    },
    { status: 201 },
  );
});

/** Stops a seat's link at once; a guest who is in by it is out. */
export const DELETE = route({ right: 'invite', params: seatParams }, async ({ params, account, show }) => {
  const revoked = await inTransaction(database(), async (client) => {
    await closeWindow(client, params.episode, params.seat);
    return revokeInvitation(client, params.episode, params.seat);
  });
  if (!revoked) throw notFound('link');
  await endRelayed(params.episode, params.seat);
  await noteEvent(database(), account, show, 'invitation', `ended the link of ${params.seat}`);
  return Response.json({ revoked });
});
