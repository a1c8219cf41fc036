import type { Metadata } from 'next';
import { listBoards } from '@/server/boards/queries';
import { database } from '@/server/database';
import { pageId, requirePage } from '@/server/page-params';
import { listSounds } from '@/server/sounds/queries';
import { SoundsPage } from '@/ui/sounds/sounds-page';

export const metadata: Metadata = { title: 'Sounds' };

export default async function Sounds({ params }: { params: Promise<{ episode: string }> }) {
  const { show } = await requirePage('watch', { episode: pageId((await params).episode) });
  const [sounds, boards] = await Promise.all([listSounds(database(), show), listBoards(database(), show)]);
  return <SoundsPage sounds={sounds} boards={boards} />;
}
