import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { knownPeople } from '@/server/seats/queries';
import { PreparePage } from '@/ui/prepare/prepare-page';

export const metadata: Metadata = { title: 'Prepare' };

export default async function Prepare({ params }: { params: Promise<{ episode: string }> }) {
  const episode = pageId((await params).episode);
  await requirePage('watch', { episode });
  return <PreparePage known={await knownPeople(database(), episode)} />;
}
