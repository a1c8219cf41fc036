import { z } from '@/core/zod';
import { findColleagueLink, setMember, spendColleagueLink } from '@/server/access/accounts';
import { hashToken } from '@/server/access/tokens';
import { database, inTransaction } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';

const membershipBody = z.object({ link: z.string().max(100) });

/** Joins a show by a colleague's link, with an account one has. */
export const POST = accountRoute({ params: noParams }, async ({ request, account }) => {
  const { link } = await readJson(request, membershipBody, 4096);
  const show = await inTransaction(database(), async (client) => {
    const found = await findColleagueLink(client, hashToken(link));
    if (!found || !(await spendColleagueLink(client, hashToken(link)))) {
      throw new HttpError(403, 'link-used', 'This link was used or has run out. Ask for a new one.');
    }
    await setMember(client, found.show, account.id, found.role);
    return found.show;
  });
  return Response.json({ show });
});
