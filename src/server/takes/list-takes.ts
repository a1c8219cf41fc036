import { summaryOf } from '@/core/checks/take-summary';
import type { TakeCheck } from '@/core/checks/take-check';
import type { ListedTake } from '@/core/session/listed-take';
import type { Querier } from '../database';
import { listHomes } from '../home/queries';
import { listTasks } from '../jobs/tasks';
import { takeSizes } from './bin';
import { listGaps, listTakes, listTracks, type TakeRow } from './queries';

/** The takes of an episode, newest first, each with who is in it and how good it is; and what all takes of the show hold, bytes. */
export async function takesForList(db: Querier, episode: string): Promise<{ takes: ListedTake[]; showBytes: number }> {
  const [rows, sizes] = await Promise.all([listTakes(db, episode), takeSizes(db, episode)]);
  const takes: ListedTake[] = [];
  for (const row of rows) takes.push(await listed(db, row, sizes.takes.get(row.id) ?? 0));
  return { takes, showBytes: sizes.show };
}

async function listed(db: Querier, row: TakeRow, bytes: number): Promise<ListedTake> {
  const { id, number, state, name, note } = row;
  const [tracks, gaps, homes, tasks] = await Promise.all([listTracks(db, id), listGaps(db, id), listHomes(db, id), listTasks(db, id)]);
  const lengthSamples = row.length_samples ?? 0;
  const check = tasks.find(({ kind, state: done }) => kind === 'check' && done === 'done')?.result ?? null;
  return {
    id,
    number,
    state,
    name,
    note,
    lengthSamples,
    bytes,
    startedAt: row.started_at.toISOString(),
    binned: row.binned_at !== null,
    // What a check measured is all that its findings need of a track.
    summary: summaryOf({ state, lengthSamples, gaps, homes, tracks: tracks.map((track) => ({ id: track.id, kind: track.kind, name: track.name, channels: track.channels, format: track.format, peakDb: null, rmsDb: null, derivedFrom: track.derived_from, made: track.made })) }, check as TakeCheck | null),
    // A list is no place for the results.
    tasks: tasks.filter((task) => task.state === 'waiting' || task.state === 'running').map((task) => ({ ...task, result: null })),
  };
}
