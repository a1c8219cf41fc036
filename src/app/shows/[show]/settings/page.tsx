import type { Metadata } from 'next';
import { database } from '@/server/database';
import { findKeys } from '@/server/keys/queries';
import { pageId, requirePage } from '@/server/page-params';
import { findHabits } from '@/server/shows/habits';
import { listShows } from '@/server/shows/queries';
import { findRecordingSettings } from '@/server/shows/recording-settings';
import { findSoundSettings } from '@/server/shows/sound-settings';
import { ShowSettingsPage } from '@/ui/settings/show-settings-page';

export const metadata: Metadata = { title: 'Show settings' };
export const dynamic = 'force-dynamic';

export default async function ShowSettings({ params }: { params: Promise<{ show: string }> }) {
  const show = pageId((await params).show);
  const { account, role } = await requirePage('work', { show });
  const db = database();
  const [shows, recording, sounds, keys, habits] = await Promise.all([listShows(db, account.id), findRecordingSettings(db, show), findSoundSettings(db, show), findKeys(db, account.id), findHabits(db, show)]);
  const name = shows.find(({ id }) => id === show)?.name ?? '';
  return <ShowSettingsPage given={{ show: { id: show, name }, role, me: account.id, example: { episode: 1, guest: 'Guest' }, recording, sounds, keys, habits }} />;
}
