import { database, inTransaction } from '@/server/database';
import { openDemo } from '@/server/demo/own-demo';
import { noParams } from '@/server/http/params';
import { accountRoute } from '@/server/http/route';

/** Opens the demo beside one's own shows. */
export const POST = accountRoute({ params: noParams }, async ({ account }) => Response.json(await inTransaction(database(), (client) => openDemo(client, account)), { status: 201 }));
