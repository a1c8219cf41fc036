import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { database } from '@/server/database';
import { orNotFound, pageId, requirePageHost } from '@/server/page-params';
import { loadTake } from '@/server/takes/load-take';
import { TakePage } from '@/ui/takes/take-page';

export const metadata: Metadata = { title: 'Take' };

export default async function Take({ params }: { params: Promise<{ episode: string; take: string }> }) {
  await requirePageHost();
  const { episode, take: id } = await params;
  const take = await orNotFound(() => loadTake(database(), pageId(id)));
  if (take.episode !== episode) notFound();
  return <TakePage take={take} />;
}
