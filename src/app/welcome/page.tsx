import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { anyAccount } from '@/server/access/accounts';
import { database } from '@/server/database';
import { NewAccountPage } from '@/ui/access/new-account-page';

export const metadata: Metadata = { title: 'Welcome' };
export const dynamic = 'force-dynamic';

/** The very first account. */
export default async function Welcome() {
  if (await anyAccount(database())) redirect('/sign-in');
  return <NewAccountPage />;
}
