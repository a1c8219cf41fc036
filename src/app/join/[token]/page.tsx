import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { GuestData } from '@/core/lines/guest-data';
import { consentWording } from '@/core/lines/consent';
import { guestOfToken } from '@/server/access/who';
import { database } from '@/server/database';
import { listSeats } from '@/server/episodes/queries';
import { HttpError } from '@/server/http/errors';
import { guestData } from '@/server/seats/guest-data';
import { GuestPage } from '@/ui/guest/guest-page';
import { LinkEndedPage } from '@/ui/guest/link-ended-page';

export const metadata: Metadata = { title: 'Your interview', referrer: 'no-referrer', robots: 'noindex' };

/** Where a guest's link leads. A link that does not let anybody in says why, and nothing else. */
export default async function Join({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const found = await openLink(token);
  return typeof found === 'string' ? <LinkEndedPage words={found} /> : <GuestPage token={token} data={found} />;
}

/** What the guest's page needs, or why the link lets nobody in. */
async function openLink(token: string): Promise<GuestData | string> {
  try {
    const guest = await guestOfToken(database(), token, new Headers(await headers()));
    return guestData(guest, await listSeats(database(), guest.episode), consentWording);
  } catch (error) {
    if (error instanceof HttpError && error.status < 500) return error.message;
    throw error;
  }
}
