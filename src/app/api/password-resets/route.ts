import { z } from '@/core/zod';
import { countAttempt } from '@/server/access/attempts';
import { callerAddress } from '@/server/access/caller-address';
import { hashPassword, SHORTEST_PASSWORD } from '@/server/access/passwords';
import { resetPassword } from '@/server/access/reset-password';
import { beginSignIn, signInCookie } from '@/server/access/sign-ins';
import { database } from '@/server/database';
import { isSecure } from '@/server/http/public-address';
import { openRoute, readJson } from '@/server/http/route';

const resetBody = z.object({ token: z.string().max(100), password: z.string().min(SHORTEST_PASSWORD, `must have at least ${SHORTEST_PASSWORD} characters`).max(200) });

/** Sets another password by a link that whoever runs the server has made, and signs its owner in. */
export const POST = openRoute(async (request) => {
  const { token, password } = await readJson(request, resetBody, 4096);
  await countAttempt(database(), { bucket: `reset/${callerAddress(request.headers)}`, most: 30, seconds: 900 });
  const account = await resetPassword(database(), token, await hashPassword(password));
  return Response.json({ changed: true }, { headers: { 'set-cookie': signInCookie(await beginSignIn(database(), account, request.headers.get('user-agent') ?? ''), isSecure(request)) } });
});
