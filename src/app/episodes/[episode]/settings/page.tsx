import type { Metadata } from 'next';
import { pageId, requirePage } from '@/server/page-params';
import { EpisodeSettingsPage } from '@/ui/settings/episode-settings-page';

export const metadata: Metadata = { title: 'Show settings' };

export default async function EpisodeSettings({ params }: { params: Promise<{ episode: string }> }) {
  const { account } = await requirePage('watch', { episode: pageId((await params).episode) });
  return <EpisodeSettingsPage me={account.id} />;
}
