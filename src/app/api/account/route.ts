import { z } from '@/core/zod';
import { deleteAccount } from '@/server/access/accounts';
import { requireOwnPassword } from '@/server/access/own-password';
import { signInCookie } from '@/server/access/sign-ins';
import { noteEvent } from '@/server/audit/events';
import { database, inTransaction } from '@/server/database';
import { noParams } from '@/server/http/params';
import { isSecure } from '@/server/http/public-address';
import { accountRoute, readJson } from '@/server/http/route';

/** Deletes one's own account, with the password it has. */
export const DELETE = accountRoute({ params: noParams }, async ({ account, request }) => {
  const { password } = await readJson(request, z.strictObject({ password: z.string().min(1).max(200) }), 4096);
  await requireOwnPassword(database(), account, password);
  await inTransaction(database(), async (db) => {
    await noteEvent(db, account, null, 'removal', 'deleted their account');
    await deleteAccount(db, account.id);
  });
  return Response.json({ deleted: true }, { headers: { 'set-cookie': signInCookie(null, isSecure(request)) } });
});
