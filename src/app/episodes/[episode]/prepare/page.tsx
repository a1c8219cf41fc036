import type { Metadata } from 'next';
import { database } from '@/server/database';
import { findEpisode } from '@/server/episodes/queries';
import { orNotFound, pageId, requirePageHost } from '@/server/page-params';
import { listNamedPlans } from '@/server/plans/queries';
import { PreparePage } from '@/ui/prepare/prepare-page';

export const metadata: Metadata = { title: 'Prepare' };

export default async function Prepare({ params }: { params: Promise<{ episode: string }> }) {
  await requirePageHost();
  const id = pageId((await params).episode);
  const { show_id } = await orNotFound(() => findEpisode(database(), id));
  return <PreparePage namedPlans={await listNamedPlans(database(), show_id)} />;
}
