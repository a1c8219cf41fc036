import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { database } from '@/server/database';
import { anyAccount } from '@/server/access/accounts';
import { accountOf, isDemo } from '@/server/access/who';
import { listEpisodes } from '@/server/episodes/queries';
import { requirePageAccount } from '@/server/page-params';
import { listShows } from '@/server/shows/queries';
import { EpisodeList } from '@/ui/episodes/episode-list';

export const dynamic = 'force-dynamic';

export default async function EpisodesPage() {
  const known = await accountOf(database(), new Headers(await headers()));
  if (!known && !(await anyAccount(database()))) redirect('/welcome');
  const account = await requirePageAccount();
  const [shows, episodes] = [await listShows(database(), account.id), await listEpisodes(database(), account.id)];
  return (
    <EpisodeList
      account={{ id: account.id, name: account.name, email: account.email, demo: isDemo() }}
      shows={shows}
      episodes={episodes.map((episode) => ({
        id: episode.id,
        number: episode.number,
        title: episode.title,
        show: episode.show,
        showId: episode.show_id,
        callers: episode.callers,
        takes: episode.takes,
        recordedSeconds: episode.recorded_samples / 48000,
        callRunning: episode.call_started_at !== null,
        openTake: episode.open_take,
        timeZone: episode.time_zone,
        plannedAt: episode.planned_at?.toISOString() ?? null,
      }))}
    />
  );
}
