import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { database } from '@/server/database';
import { orNotFound, pageId, requirePage } from '@/server/page-params';
import { loadTake } from '@/server/takes/load-take';
import { TakePage } from '@/ui/takes/take-page';

export const metadata: Metadata = { title: 'Take' };

export default async function Take({ params }: { params: Promise<{ episode: string; take: string }> }) {
  const { episode, take: id } = await params;
  await requirePage('watch', { episode: pageId(episode) });
  const take = await orNotFound(() => loadTake(database(), pageId(id)));
  if (take.episode !== episode) notFound();
  // Another set of tracks is another player.
  return <TakePage key={take.tracks.map((track) => track.id).join()} take={take} />;
}
