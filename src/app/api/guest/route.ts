import { consentWording } from '@/core/lines/consent';
import { database } from '@/server/database';
import { listSeats } from '@/server/episodes/queries';
import { guestRoute } from '@/server/http/route';
import { guestData } from '@/server/seats/guest-data';

/** What a guest may know before they are in. */
export const GET = guestRoute({}, async ({ guest }) => Response.json(guestData(guest, await listSeats(database(), guest.episode), consentWording)));
