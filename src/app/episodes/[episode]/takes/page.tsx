import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { listTakes } from '@/server/takes/queries';
import { TakeList } from '@/ui/takes/take-list';

export const metadata: Metadata = { title: 'Takes' };

export default async function TakesPage({ params }: { params: Promise<{ episode: string }> }) {
  const episode = pageId((await params).episode);
  await requirePage('watch', { episode });
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
