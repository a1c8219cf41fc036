import { randomUUID } from 'node:crypto';
import { z } from '@/core/zod';
import { MOST_STATIONS, PRACTICE_RADIO, stationSchema, type Station, type StationSettings } from '@/core/air/station';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';
import { seal, unseal } from './secret';
import { refusalOf } from './target';

const row = z.object({ id: z.uuid(), settings: stationSchema, has_password: z.boolean() });
const asStation = (found: unknown): Station => {
  const { id, settings, has_password } = row.parse(found);
  return { id, settings, hasPassword: has_password };
};

const purpose = (station: string): string => `station ${station}`;

/** The stations of a show, oldest first. */
export async function listStations(db: Querier, show: string): Promise<Station[]> {
  const { rows } = await db.query('select id, settings, password is not null as has_password from station where show_id = $1 order by created_at, id', [show]);
  return rows.map(asStation);
}

/** @throws {HttpError} 400, 409 */
export async function addStation(db: Querier, show: string, settings: StationSettings, password: string | null): Promise<Station> {
  requireAllowed(settings);
  const id = randomUUID();
  const { rows } = await db.query(
    `insert into station (id, show_id, settings, password)
     select $1, $2, $3, $4 where (select count(*) from station where show_id = $2) < $5
     returning id, settings, password is not null as has_password`,
    [id, show, JSON.stringify(settings), password === null ? null : seal(password, purpose(id)), MOST_STATIONS],
  );
  if (rows.length === 0) throw new HttpError(409, 'too-many-stations', `A show has at most ${MOST_STATIONS} stations. Remove one first.`);
  return asStation(rows[0]);
}

/**
 * A password that is not given stays, but never for another server: whoever may change an address must not learn it by that.
 * @throws {HttpError} 400, 404
 */
export async function changeStation(db: Querier, show: string, id: string, settings: StationSettings, password: string | null): Promise<Station> {
  requireAllowed(settings);
  const { rows } = await db.query(
    `update station set settings = $3, password = case
            when $4::bytea is not null then $4
            when settings ->> 'address' = $5 then password end
      where show_id = $1 and id = $2 returning id, settings, password is not null as has_password`,
    [show, id, JSON.stringify(settings), password === null ? null : seal(password, purpose(id)), settings.address],
  );
  if (rows.length === 0) throw notFound('station');
  return asStation(rows[0]);
}

export async function removeStation(db: Querier, show: string, id: string): Promise<void> {
  const { rowCount } = await db.query('delete from station where show_id = $1 and id = $2', [show, id]);
  if (rowCount === 0) throw notFound('station');
}

/** What a server is told who sends: name and password, for nobody but the sender. @throws {Error} when there is none */
export async function passwordOf(db: Querier, station: string, { address }: StationSettings): Promise<string> {
  if (address === PRACTICE_RADIO) return process.env.PRACTICE_RADIO_PASSWORD ?? '';
  const { rows } = await db.query<{ password: Buffer | null }>('select password from station where id = $1', [station]);
  const sealed = rows[0]?.password;
  if (!sealed) throw new Error('This station has no password yet. Set it in Prepare.');
  try {
    return unseal(sealed, purpose(station));
  } catch {
    throw new Error('The station’s password was kept with another key of this server. Set it again in Prepare.');
  }
}

function requireAllowed({ address }: StationSettings): void {
  const refusal = refusalOf(address);
  if (refusal) throw new HttpError(400, 'host-not-allowed', refusal);
}
