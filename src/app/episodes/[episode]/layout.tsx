import type { ReactNode } from 'react';
import { database } from '@/server/database';
import { loadDesk } from '@/server/episodes/load-desk';
import { orNotFound, pageId, requirePage } from '@/server/page-params';
import { EpisodeShell } from '@/ui/shell/episode-shell';

interface Props {
  params: Promise<{ episode: string }>;
  children: ReactNode;
}

export default async function EpisodeLayout({ params, children }: Props) {
  const episode = pageId((await params).episode);
  const { account, role } = await requirePage('watch', { episode });
  const data = await orNotFound(() => loadDesk(database(), episode, { account: account.id, role }));
  return <EpisodeShell data={data}>{children}</EpisodeShell>;
}
