import type { Metadata } from 'next';
import { z } from '@/core/zod';
import { lineCheckOfTake, newestLineCheck } from '@/server/checks/line-checks';
import { database } from '@/server/database';
import { findEpisode } from '@/server/episodes/queries';
import { orNotFound, pageId, requirePage } from '@/server/page-params';
import { CheckReport } from '@/ui/check/check-report';

export const metadata: Metadata = { title: 'Line check' };

interface Props {
  params: Promise<{ episode: string }>;
  searchParams?: Promise<{ take?: string }>;
}

/** A line check on paper: the newest of an episode, or the one a take names. */
export default async function CheckOnPaper({ params, searchParams }: Props) {
  const id = pageId((await params).episode);
  await requirePage('watch', { episode: id });
  const take = z.uuid().safeParse((await searchParams)?.take);
  const db = database();
  const episode = await orNotFound(() => findEpisode(db, id));
  const check = take.success ? await lineCheckOfTake(db, take.data, id) : await newestLineCheck(db, id);
  return <CheckReport title={episode.title} show={episode.show} number={episode.number} zone={episode.time_zone} check={check} />;
}
