import { z } from '@/core/zod';
import { SHOW_ROLES } from '@/core/access/rights';
import { insertColleagueLink, listColleagueLinks, listMembers } from '@/server/access/accounts';
import { newToken } from '@/server/access/tokens';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { showParams } from '@/server/http/params';
import { publicAddress } from '@/server/http/public-address';
import { readJson, route } from '@/server/http/route';

export const GET = route({ right: 'members', params: showParams }, async ({ params }) =>
  Response.json({ members: await listMembers(database(), params.show), links: await listColleagueLinks(database(), params.show) }),
);

const LINK_DAYS = 7;
const linkBody = z.object({ role: z.enum(SHOW_ROLES) });

/** Makes a link with which one colleague joins the show. It is told only here. */
export const POST = route({ right: 'members', params: showParams }, async ({ params, request, account }) => {
  const { role } = await readJson(request, linkBody, 1024);
  const { token, hash } = newToken();
  const expiresAt = await insertColleagueLink(database(), params.show, account.id, role, hash, LINK_DAYS);
  await noteEvent(database(), account, params.show, 'member', `made a link for a colleague as ${role}`);
  return Response.json({ link: `${publicAddress(request.headers)}/colleague/${token}`, expiresAt: expiresAt.toISOString() }, { status: 201 });
});
