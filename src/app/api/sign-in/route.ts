import { z } from '@/core/zod';
import { findAccount, findPasswordHash } from '@/server/access/accounts';
import { countAttempt } from '@/server/access/attempts';
import { callerNetwork } from '@/server/access/caller-address';
import { isKnownBrowser, knowBrowser, knownBrowserCookie } from '@/server/access/known-browsers';
import { passwordIs } from '@/server/access/passwords';
import { beginSignIn, endAllSignIns, endSignIn, signInCookie, signInToken } from '@/server/access/sign-ins';
import { requireAccount } from '@/server/access/who';
import { noteEvent } from '@/server/audit/events';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { isSecure } from '@/server/http/public-address';
import { openRoute, readJson } from '@/server/http/route';

const signInBody = z.object({ email: z.email().max(254), password: z.string().min(1).max(200) });

/** Signs somebody in. A wrong address and a wrong password are not told apart. */
export const POST = openRoute(async (request) => {
  const { email, password } = await readJson(request, signInBody, 4096);
  const db = database();
  const who = email.toLowerCase();
  const found = await findPasswordHash(db, email);
  const known = found !== null && (await isKnownBrowser(db, found.id, request.headers.get('cookie')));
  const network = callerNetwork(request.headers);
  await countAttempt(db, { bucket: `sign-in/network/${network}`, most: 120, seconds: 900 });
  // Whoever guesses does so from a network and with a browser of their own: neither keeps the account's owner out.
  await countAttempt(db, { bucket: `sign-in/${known ? 'known' : network}/${who}`, most: 10, seconds: 900 });
  if (!known) await countAttempt(db, { bucket: `sign-in/strangers/${who}`, most: 100, seconds: 900 });
  if (!(await passwordIs(found?.hash ?? null, password)) || !found) {
    throw new HttpError(401, 'wrong-sign-in', 'The e-mail address or the password is wrong.');
  }
  const account = await findAccount(db, found.id);
  if (account) await noteEvent(db, account, null, 'sign-in', 'signed in');
  const secure = isSecure(request);
  const headers = new Headers({ 'set-cookie': signInCookie(await beginSignIn(db, found.id, request.headers.get('user-agent') ?? ''), secure) });
  if (!known) headers.append('set-cookie', knownBrowserCookie(await knowBrowser(db, found.id), secure));
  return Response.json({ signedIn: true }, { headers });
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
