import { boardSchema, type BoardPad } from '@/core/sounds/board';
import type { Querier } from '../database';
import { notFound } from '../http/errors';

export interface NamedBoard {
  name: string;
  pads: BoardPad[];
}

/** The boards a show keeps for later episodes, by name. Sounds that are gone from the library are left out. */
export async function listBoards(db: Querier, show: string): Promise<NamedBoard[]> {
  const [{ rows }, { rows: sounds }] = await Promise.all([
    db.query<{ name: string; body: unknown }>('select name, body from named_board where show_id = $1 order by lower(name)', [show]),
    db.query<{ id: string }>('select id from sound where show_id = $1', [show]),
  ]);
  const there = new Set(sounds.map(({ id }) => id));
  return rows.map(({ name, body }) => ({ name, pads: boardSchema.parse(body).filter(({ sound }) => there.has(sound)) }));
}

/** Keeps a board under a name; one of the same name is replaced. */
export async function storeBoard(db: Querier, show: string, { name, pads }: NamedBoard): Promise<void> {
  const { rowCount } = await db.query(
    `insert into named_board (show_id, name, body)
     select id, $2, $3 from show where id = $1
     on conflict (show_id, name) do update set body = excluded.body, stored_at = now()`,
    [show, name, JSON.stringify(pads)],
  );
  if (rowCount === 0) throw notFound('show');
}
