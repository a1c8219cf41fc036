import { DEFAULT_HABITS, ownHabitsSchema, type DeskHabits } from '@/core/session/habits';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

/** How a show's desks behave. @throws {HttpError} 404 */
export async function findHabits(db: Querier, show: string): Promise<DeskHabits> {
  const { rows } = await db.query<{ habits: unknown }>('select habits from show where id = $1', [show]);
  if (rows.length === 0) throw notFound('show');
  return { ...DEFAULT_HABITS, ...ownHabitsSchema.parse(rows[0].habits) };
}

export async function storeHabits(db: Querier, show: string, habits: DeskHabits): Promise<void> {
  await db.query('update show set habits = $2 where id = $1', [show, JSON.stringify(habits)]);
}

/** What an episode does otherwise than its show. @throws {HttpError} 404 */
export async function findOwnHabits(db: Querier, episode: string): Promise<Partial<DeskHabits>> {
  const { rows } = await db.query<{ habits: unknown }>('select habits from episode where id = $1', [episode]);
  if (rows.length === 0) throw notFound('episode');
  return ownHabitsSchema.parse(rows[0].habits);
}

export async function storeOwnHabits(db: Querier, episode: string, habits: Partial<DeskHabits>): Promise<void> {
  await db.query('update episode set habits = $2 where id = $1', [episode, JSON.stringify(habits)]);
}
