import { z } from '@/core/zod';
import { endSignInOf } from '@/server/access/sign-ins';
import { database } from '@/server/database';
import { HttpError } from '@/server/http/errors';
import { accountRoute } from '@/server/http/route';

/** Signs one browser out. */
export const DELETE = accountRoute({ params: z.object({ signIn: z.uuid() }) }, async ({ account, params }) => {
  if (!(await endSignInOf(database(), account.id, params.signIn))) throw new HttpError(404, 'signed-out', 'This browser was signed out already.');
  return Response.json({ ended: params.signIn });
});
