import { timingSafeEqual } from 'node:crypto';
import { z } from '@/core/zod';
import { anyAccount, findColleagueLink, insertAccount, setMember, spendColleagueLink } from '@/server/access/accounts';
import { countAttempt } from '@/server/access/attempts';
import { callerAddress } from '@/server/access/caller-address';
import { hashPassword, SHORTEST_PASSWORD } from '@/server/access/passwords';
import { beginSignIn, signInCookie } from '@/server/access/sign-ins';
import { hashToken } from '@/server/access/tokens';
import { database, inTransaction, type Querier } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { isSecure } from '@/server/http/public-address';
import { openRoute, readJson } from '@/server/http/route';

const accountBody = z.object({
  /** Printed at the first start, for the first account. */
  setupCode: z.string().max(100).optional(),
  /** From a colleague's link, for every other. */
  link: z.string().max(100).optional(),
  name: z.string().trim().min(1).max(60),
  email: z.email().max(254),
  password: z.string().min(SHORTEST_PASSWORD, `must have at least ${SHORTEST_PASSWORD} characters`).max(200),
});

/** Makes an account: the first one with the setup code, others with a link from an owner. */
export const POST = openRoute(async (request) => {
  const body = await readJson(request, accountBody, 4096);
  await countAttempt(database(), { bucket: `account/${callerAddress(request.headers)}`, most: 30, seconds: 900 });
  const passwordHash = await hashPassword(body.password);
  const account = await inTransaction(database(), async (client) => {
    const member = await requireInvited(client, body);
    const id = await insertAccount(client, { email: body.email, name: body.name, passwordHash });
    if (member) await setMember(client, member.show, id, member.role);
    return id;
  });
  const token = await beginSignIn(database(), account, request.headers.get('user-agent') ?? '');
  return Response.json({ account }, { status: 201, headers: { 'set-cookie': signInCookie(token, isSecure(request)) } });
});

/** Which show and role come with the account; null for the first account. @throws {HttpError} 403 */
async function requireInvited(db: Querier, { setupCode, link }: z.infer<typeof accountBody>) {
  // One at a time: two first accounts at once are one too many.
  await db.query('select pg_advisory_xact_lock($1)', [140_712]);
  if (link !== undefined) {
    const found = await findColleagueLink(db, hashToken(link));
    if (!found || !(await spendColleagueLink(db, hashToken(link)))) {
      throw new HttpError(403, 'link-used', 'This link was used or has run out. Ask for a new one.');
    }
    return found;
  }
  if (await anyAccount(db)) throw new HttpError(403, 'not-first', 'There are accounts already. Ask an owner of your show for a link.');
  const expected = process.env.SETUP_CODE ?? '';
  const same = expected !== '' && timingSafeEqual(hashToken(expected), hashToken(setupCode ?? ''));
  if (!same) throw new HttpError(403, 'setup-code', 'The setup code is wrong. It is printed where the product was started.');
  return null;
}
