import type { Metadata } from 'next';
import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { findPasswordHash } from '@/server/access/accounts';
import { listSignIns, signInToken } from '@/server/access/sign-ins';
import { accountOf } from '@/server/access/who';
import { database } from '@/server/database';
import { AccountPage } from '@/ui/access/account-page';

export const metadata: Metadata = { title: 'My account' };

export default async function Account() {
  const asked = await headers();
  const account = await accountOf(database(), asked);
  if (!account) redirect('/sign-in');
  const signIns = await listSignIns(database(), account.id, signInToken(asked.get('cookie')));
  const hasPassword = (await findPasswordHash(database(), account.email))?.hash != null;
  return <AccountPage account={account} hasPassword={hasPassword} signIns={signIns} />;
}
