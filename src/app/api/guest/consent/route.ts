import { z } from '@/core/zod';
import { consentWording } from '@/core/lines/consent';
import { database } from '@/server/database';
import { listSeats } from '@/server/episodes/queries';
import { HttpError } from '@/server/http/errors';
import { guestRoute, readJson } from '@/server/http/route';
import { guestData } from '@/server/seats/guest-data';
import { insertConsent } from '@/server/seats/queries';

const consentBody = z.object({ name: z.string().trim().min(1).max(60), wording: z.string().max(500) });

/** Keeps a guest's consent to be recorded, in the words they read. */
export const POST = guestRoute({}, async ({ guest, request }) => {
  const { name, wording } = await readJson(request, consentBody, 4096);
  const { consent } = guestData(guest, await listSeats(database(), guest.episode), consentWording);
  if (wording !== consent) throw new HttpError(409, 'wording', 'The words have changed since this page was opened. Reload it and read them again.');
  await insertConsent(database(), guest.episode, { seat: guest.seat, name, wording });
  return Response.json({ agreed: true }, { status: 201 });
});
