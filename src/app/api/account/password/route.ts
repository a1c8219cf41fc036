import { z } from '@/core/zod';
import { requireOwnPassword } from '@/server/access/own-password';
import { hashPassword, SHORTEST_PASSWORD } from '@/server/access/passwords';
import { setPassword } from '@/server/access/reset-password';
import { beginSignIn, signInCookie } from '@/server/access/sign-ins';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { noParams } from '@/server/http/params';
import { isSecure } from '@/server/http/public-address';
import { accountRoute, readJson } from '@/server/http/route';

const passwordBody = z.object({ now: z.string().min(1).max(200), next: z.string().min(SHORTEST_PASSWORD, `must have at least ${SHORTEST_PASSWORD} characters`).max(200) });

/** Changes one's own password; every other browser is signed out by it. */
export const PUT = accountRoute({ params: noParams }, async ({ account, request }) => {
  const { now, next } = await readJson(request, passwordBody, 4096);
  await requireOwnPassword(database(), account, now);
  const hash = await hashPassword(next);
  await inTransaction(database(), async (db) => {
    await setPassword(db, account.id, hash);
    await noteEvent(db, account, null, 'password', 'changed the password');
  });
  const token = await beginSignIn(database(), account.id, request.headers.get('user-agent') ?? '');
  return Response.json({ changed: true }, { headers: { 'set-cookie': signInCookie(token, isSecure(request)) } });
});
