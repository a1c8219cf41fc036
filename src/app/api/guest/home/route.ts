import { z } from '@/core/zod';
import { database } from '@/server/database';
import { beginHome } from '@/server/home/receive-home';
import { guestRoute, readJson } from '@/server/http/route';

const begin = z.strictObject({ take: z.uuid() });

/** Begins a recording of a guest's microphone at their own end. */
export const POST = guestRoute({}, async ({ guest, request }) => {
  const { take } = await readJson(request, begin, 4096);
  return Response.json(await beginHome(database(), guest, take), { status: 201 });
});
