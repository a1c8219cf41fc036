import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePageHost } from '@/server/page-params';
import { listTakes } from '@/server/takes/queries';
import { TakeList } from '@/ui/takes/take-list';

export const metadata: Metadata = { title: 'Takes' };

export default async function TakesPage({ params }: { params: Promise<{ episode: string }> }) {
  await requirePageHost();
  const episode = pageId((await params).episode);
  const takes = await listTakes(database(), episode);
  return (
    <TakeList
      episode={episode}
      takes={takes.map(({ id, number, state, started_at, length_samples }) => ({
        id,
        number,
        state,
        startedAt: started_at.toISOString(),
        lengthSamples: length_samples ?? 0,
      }))}
    />
  );
}
