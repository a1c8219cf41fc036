import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { anyAccount } from '@/server/access/accounts';
import { database } from '@/server/database';
import { SignInPage } from '@/ui/access/sign-in-page';

export const metadata: Metadata = { title: 'Sign in' };
export const dynamic = 'force-dynamic';

export default async function SignIn() {
  if (!(await anyAccount(database()))) redirect('/welcome');
  return <SignInPage />;
}
