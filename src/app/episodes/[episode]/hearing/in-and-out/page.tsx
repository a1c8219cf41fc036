import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { listNamedPlans } from '@/server/plans/queries';
import { InAndOutPage } from '@/ui/hearing/in-and-out-page';

export const metadata: Metadata = { title: 'In and out' };

export default async function InAndOut({ params }: { params: Promise<{ episode: string }> }) {
  const { show } = await requirePage('watch', { episode: pageId((await params).episode) });
  return <InAndOutPage startingPlans={await listNamedPlans(database(), show)} />;
}
