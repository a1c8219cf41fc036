import type { Metadata } from 'next';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { takeSizes } from '@/server/takes/bin';
import { listTakes } from '@/server/takes/queries';
import { TakeList } from '@/ui/takes/take-list';

export const metadata: Metadata = { title: 'Takes' };

export default async function TakesPage({ params }: { params: Promise<{ episode: string }> }) {
  const episode = pageId((await params).episode);
  await requirePage('watch', { episode });
  const [takes, sizes] = await Promise.all([listTakes(database(), episode), takeSizes(database(), episode)]);
  return (
    <TakeList
      episode={episode}
      showBytes={sizes.show}
      takes={takes.map(({ id, number, state, started_at, length_samples, name, note, binned_at }) => ({
        id,
        number,
        state,
        startedAt: started_at.toISOString(),
        lengthSamples: length_samples ?? 0,
        name,
        note,
        bytes: sizes.takes.get(id) ?? 0,
        binned: binned_at !== null,
      }))}
    />
  );
}
