import type { ReactNode } from 'react';
import { database } from '@/server/database';
import { loadDesk } from '@/server/episodes/load-desk';
import { orNotFound, pageId, requirePageHost } from '@/server/page-params';
import { EpisodeShell } from '@/ui/shell/episode-shell';

interface Props {
  params: Promise<{ episode: string }>;
  children: ReactNode;
}

export default async function EpisodeLayout({ params, children }: Props) {
  await requirePageHost();
  const episode = pageId((await params).episode);
  const data = await orNotFound(() => loadDesk(database(), episode));
  return <EpisodeShell data={data}>{children}</EpisodeShell>;
}
