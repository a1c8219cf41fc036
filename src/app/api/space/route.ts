import { database } from '@/server/database';
import { databaseSpace } from '@/server/disk-space';
import { noParams } from '@/server/http/params';
import { accountRoute } from '@/server/http/route';

/** Free bytes where the database lies; null where that cannot be told from here. */
export const GET = accountRoute({ params: noParams }, async () => Response.json({ freeBytes: await databaseSpace(database()) }));
