import { database } from '@/server/database';
import { listEpisodes } from '@/server/episodes/queries';
import { requirePageHost } from '@/server/page-params';
import { EpisodeList } from '@/ui/episodes/episode-list';

export const dynamic = 'force-dynamic';

export default async function EpisodesPage() {
  await requirePageHost();
  const episodes = await listEpisodes(database());
  return (
    <EpisodeList
      episodes={episodes.map((episode) => ({
        id: episode.id,
        number: episode.number,
        title: episode.title,
        show: episode.show,
        callers: episode.callers,
        takes: episode.takes,
        recordedSeconds: episode.recorded_samples / 48000,
        callRunning: episode.call_started_at !== null,
        openTake: episode.open_take,
      }))}
    />
  );
}
