import type { Metadata } from 'next';
import { ResetPage } from '@/ui/access/reset-page';

export const metadata: Metadata = { title: 'Another password', referrer: 'no-referrer' };

export default async function Reset({ params }: { params: Promise<{ token: string }> }) {
  return <ResetPage token={(await params).token} />;
}
