import { listSignIns, signInToken } from '@/server/access/sign-ins';
import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute } from '@/server/http/route';

/** Every browser in which one is signed in. */
export const GET = accountRoute({ params: noParams }, async ({ account, request }) => Response.json(await listSignIns(database(), account.id, signInToken(request.headers.get('cookie')))));
