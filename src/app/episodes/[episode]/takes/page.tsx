import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { takesForList } from '@/server/takes/list-takes';
import { TakeList } from '@/ui/takes/take-list';

export const metadata: Metadata = { title: 'Takes' };

export default async function TakesPage({ params }: { params: Promise<{ episode: string }> }) {
  const episode = pageId((await params).episode);
  await requirePage('watch', { episode });
  return <TakeList episode={episode} {...await takesForList(database(), episode)} />;
}
