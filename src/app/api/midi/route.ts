import { z } from '@/core/zod';
import { midiBindingsSchema } from '@/core/session/midi-bindings';
import { database } from '@/server/database';
import { noParams } from '@/server/http/params';
import { accountRoute, readJson } from '@/server/http/route';
import { storeMidi } from '@/server/midi/queries';

/** Keeps what the host's controller does. */
export const PUT = accountRoute({ params: noParams }, async ({ request, account }) => {
  const { bindings } = await readJson(request, z.object({ bindings: midiBindingsSchema }), 65536);
  await storeMidi(database(), account.id, bindings);
  return Response.json({ kept: bindings.length });
});
