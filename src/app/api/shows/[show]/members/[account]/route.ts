import { z } from '@/core/zod';
import { SHOW_ROLES } from '@/core/access/rights';
import { changeRole, listMembers, removeMember } from '@/server/access/accounts';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { showParams } from '@/server/http/params';
import { readJson, route } from '@/server/http/route';

const memberParams = showParams.extend({ account: z.uuid() });

/** Gives a colleague another role. */
export const PUT = route({ right: 'members', params: memberParams }, async ({ params, request, account }) => {
  const { role } = await readJson(request, z.strictObject({ role: z.enum(SHOW_ROLES) }), 1024);
  await inTransaction(database(), async (client) => {
    await changeRole(client, params.show, params.account, role);
    const changed = (await listMembers(client, params.show)).find(({ id }) => id === params.account);
    await noteEvent(client, account, params.show, 'member', `made ${changed?.name ?? 'somebody'} ${role} of the show`);
  });
  return Response.json({ role });
});

/** Takes a colleague off the show. */
export const DELETE = route({ right: 'members', params: memberParams }, async ({ params, account }) => {
  await inTransaction(database(), async (client) => {
    const gone = (await listMembers(client, params.show)).find(({ id }) => id === params.account);
    await removeMember(client, params.show, params.account);
    await noteEvent(client, account, params.show, 'member', `took ${gone?.name ?? 'somebody'} off the show`);
  });
  return Response.json({ removed: params.account });
});
