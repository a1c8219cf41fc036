import type { Metadata } from 'next';
import { headers } from 'next/headers';
import { findColleagueLink } from '@/server/access/accounts';
import { countAttempt } from '@/server/access/attempts';
import { callerAddress } from '@/server/access/caller-address';
import { hashToken } from '@/server/access/tokens';
import { accountOf } from '@/server/access/who';
import { database } from '@/server/database';
import { orNotFound } from '@/server/page-params';
import { NewAccountPage } from '@/ui/access/new-account-page';
import { LinkEndedPage } from '@/ui/guest/link-ended-page';

export const metadata: Metadata = { title: 'Join a show' };

/** Where a colleague's link leads: an account of their own, or one they have. */
export default async function Colleague({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  const asking = new Headers(await headers());
  const found = await findColleagueLink(database(), hashToken(token));
  if (!found) {
    await orNotFound(() => countAttempt(database(), { bucket: `link/${callerAddress(asking)}`, most: 40, seconds: 600 }));
    return <LinkEndedPage words="This link was used or has run out. Ask the owner of the show for a new one." />;
  }
  const account = await accountOf(database(), asking);
  return <NewAccountPage colleague={{ link: token, show: found.showName, role: found.role, signedInAs: account?.name ?? null }} />;
}
