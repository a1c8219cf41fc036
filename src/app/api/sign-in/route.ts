import { z } from 'zod';
import { findPasswordHash } from '@/server/access/accounts';
import { countAttempt } from '@/server/access/attempts';
import { callerAddress } from '@/server/access/caller-address';
import { passwordIs } from '@/server/access/passwords';
import { beginSignIn, endAllSignIns, endSignIn, signInCookie, signInToken } from '@/server/access/sign-ins';
import { requireAccount } from '@/server/access/who';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { isSecure } from '@/server/http/public-address';
import { openRoute, readJson } from '@/server/http/route';

const signInBody = z.object({ email: z.email().max(254), password: z.string().min(1).max(200) });

/** Signs somebody in. A wrong address and a wrong password are not told apart. */
export const POST = openRoute(async (request) => {
  const { email, password } = await readJson(request, signInBody, 4096);
  await countAttempt(database(), { bucket: `sign-in/address/${callerAddress(request.headers)}`, most: 60, seconds: 900 });
  await countAttempt(database(), { bucket: `sign-in/email/${email.toLowerCase()}`, most: 10, seconds: 900 });
  const found = await findPasswordHash(database(), email);
  if (!(await passwordIs(found?.hash ?? null, password)) || !found) {
    throw new HttpError(401, 'wrong-sign-in', 'The e-mail address or the password is wrong.');
  }
  const token = await beginSignIn(database(), found.id);
  return Response.json({ signedIn: true }, { headers: { 'set-cookie': signInCookie(token, isSecure(request)) } });
});

const endBody = z.object({ everywhere: z.boolean().default(false) });

/** Signs out here, or in every browser. */
export const DELETE = openRoute(async (request) => {
  const { everywhere } = await readJson(request, endBody, 1024);
  const token = signInToken(request.headers.get('cookie'));
  const ended = everywhere ? await endAllSignIns(database(), (await requireAccount(database(), request.headers)).id) : 1;
  await endSignIn(database(), token);
  return Response.json({ ended }, { headers: { 'set-cookie': signInCookie(null, isSecure(request)) } });
});
