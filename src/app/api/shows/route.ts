import { z } from '@/core/zod';
import { database, inTransaction } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';
import { insertShow } from '@/server/shows/queries';

const isTimeZone = (name: string): boolean => {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: name }).format() !== '';
  } catch {
    return false;
  }
};

const showBody = z.object({
  name: z.string().trim().min(1).max(80),
  timeZone: z.string().max(60).refine(isTimeZone, 'must be a time zone, such as Europe/Berlin').nullable().default(null),
});

/** Makes a show; whoever makes it owns it. */
export const POST = accountRoute({ params: noParams }, async ({ request, account }) => {
  const { name, timeZone } = await readJson(request, showBody, 4096);
  const show = await inTransaction(database(), (client) => insertShow(client, account, name, timeZone));
  return Response.json({ show }, { status: 201 });
});
