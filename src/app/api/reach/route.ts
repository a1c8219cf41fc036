import type { Reach } from '@/core/session/reach';
import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute } from '@/server/http/route';
import { iceServers } from '@/server/message-box/ice';
import { reachFindings } from '@/server/reach/reach';
import { countAttempt } from '@/server/access/attempts';

/** Whether guests elsewhere can come in, as far as this server can tell, and what browsers need to try it. */
export const GET = accountRoute({ params: noParams }, async ({ account }) => {
  await countAttempt(database(), { bucket: `reach/${account.id}`, most: 60, seconds: 600 });
  return Response.json({ findings: await reachFindings(), iceServers: iceServers(account.id) } satisfies Reach);
});
