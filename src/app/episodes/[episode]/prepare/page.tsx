import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { listNamedPlans } from '@/server/plans/queries';
import { knownPeople } from '@/server/seats/queries';
import { PreparePage } from '@/ui/prepare/prepare-page';

export const metadata: Metadata = { title: 'Prepare' };

export default async function Prepare({ params }: { params: Promise<{ episode: string }> }) {
  const episode = pageId((await params).episode);
  const { show } = await requirePage('watch', { episode });
  return <PreparePage namedPlans={await listNamedPlans(database(), show)} known={await knownPeople(database(), episode)} />;
}
