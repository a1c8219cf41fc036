import { ERASED_NAME, eraseInJson, eraseInText, type Erased } from '@/core/takes/erasure';
import { seatIdFor } from '@/core/hearing/seats';
import { DERIVED_KINDS } from '@/core/takes/track-kinds';
import type { Querier } from '../database';
import { HttpError, notFound } from '../http/errors';

/** What went with somebody. */
export interface Erasure {
  takes: number;
  tracks: number;
  /** Finished mixes that held their voice. They can be made anew from the tracks that stay. */
  mixes: number;
}

/** Finished mixes: whoever was in the call is in them. */
const MIXES = ['program', 'phones', 'return', 'feed'];
/** Read and written again so many at a time. */
const PAGE = 200;

interface InTake {
  take: string;
  episode: string;
  seats: string[];
}

/**
 * Takes everything of a guest out of a show: their tracks, what their browser recorded, the mixes that held them, files made of
 * those, their seats, links and messages, and their name wherever it stands. What they agreed to becomes the record that it was
 * erased. Takes stay whole without them. Only within a transaction.
 * @param name their whole name, which is how a show knows people
 * @throws {HttpError} 404, 409 while they are in a call or a take that is open
 */
export async function eraseGuest(db: Querier, show: string, name: string): Promise<Erasure> {
  await db.query('select 1 from show where id = $1 for update', [show]);
  const [seats, takes] = [await seatsOf(db, show, name), await takesWith(db, show, name)];
  if (seats.length === 0 && takes.length === 0) throw notFound('guest');
  const episodes = [...new Set([...seats, ...takes].map(({ episode }) => episode))];
  await requireQuiet(db, episodes, takes.map(({ take }) => take));

  const names = await namesOf(db, seats, takes, name);
  const erasure: Erasure = { takes: takes.length, tracks: 0, mixes: 0 };
  for (const episode of episodes) {
    const ids = [...new Set([...seats, ...takes].filter((one) => one.episode === episode).flatMap((one) => one.seats))];
    const called = { seats: await newIds(db, episode, ids), names };
    for (const one of takes.filter((take) => take.episode === episode)) await eraseInTake(db, one, { ...called, seats: new Map([...called.seats].filter(([id]) => one.seats.includes(id))) }, erasure);
    await eraseInEpisode(db, episode, { ...called, seats: new Map([...called.seats].filter(([id]) => seats.some((seat) => seat.episode === episode && seat.seats.includes(id)))) });
  }
  await eraseWords(db, show, names, name);
  // Seats that were taken out of an episode leave their people behind.
  await db.query('delete from person where show_id = $1 and not exists (select from seat where person_id = person.id)', [show]);
  return erasure;
}

/** Whom a show has had as guests, as it knows them, those of its newest episodes first. */
export async function listGuests(db: Querier, show: string): Promise<{ name: string; episodes: number[]; takes: number }[]> {
  const { rows } = await db.query<{ name: string; episodes: number[]; takes: number }>(
    `with been as (
       select person.full_name as name, episode.id as episode, episode.number, null::uuid as take
         from seat join person on person.id = seat.person_id join episode on episode.id = seat.episode_id
        where episode.show_id = $1 and seat.role <> 'host'
       union all
       select regexp_replace(track.name, ' \\(.*\\)$', ''), episode.id, episode.number, take.id
         from track join take on take.id = track.take_id join episode on episode.id = take.episode_id
        where episode.show_id = $1 and track.kind = 'voice' and track.name <> $2
          and not exists (select from seat where seat.episode_id = episode.id and track.recorded = 'voice:' || seat.id and seat.role = 'host'))
     select name, array_agg(distinct number) as episodes, count(distinct take)::int as takes from been group by name order by max(number) desc, name limit 1000`,
    [show, ERASED_NAME],
  );
  return rows;
}

async function seatsOf(db: Querier, show: string, name: string): Promise<{ episode: string; seats: string[] }[]> {
  const { rows } = await db.query<{ episode: string; seats: string[] }>(
    `select episode.id as episode, array_agg(seat.id) as seats
       from seat join person on person.id = seat.person_id join episode on episode.id = seat.episode_id
      where episode.show_id = $1 and seat.role <> 'host' and (person.full_name = $2 or $2 = any (seat.people)) group by episode.id`,
    [show, name],
  );
  return rows;
}

/** Takes they are on: by their track's name, for a seat's id may have been another person's before, or what they agreed to. */
async function takesWith(db: Querier, show: string, name: string): Promise<InTake[]> {
  const { rows } = await db.query<InTake & Record<string, unknown>>(
    `with theirs as (
       select take.id as take, take.episode_id as episode, substr(track.recorded, 7) as seat
         from track join take on take.id = track.take_id join episode on episode.id = take.episode_id
        where episode.show_id = $1 and track.kind = 'voice'
          -- Several people behind one line stand behind its name.
          and (regexp_replace(track.name, ' \\(.*\\)$', '') = $2 or $2 = any (regexp_split_to_array(substring(track.name from '\\((.*)\\)$'), ', | and ')))
       union
       select take.id, take.episode_id, take_consent.seat_id
         from take_consent join take on take.id = take_consent.take_id join episode on episode.id = take.episode_id
        where episode.show_id = $1 and take_consent.name = $2
       union
       select take.id, take.episode_id, seat.id
         from seat join person on person.id = seat.person_id join episode on episode.id = seat.episode_id join take on take.episode_id = episode.id
        where episode.show_id = $1 and seat.role <> 'host' and person.full_name = $2
          and not exists (select from track where track.take_id = take.id and track.kind = 'voice' and track.recorded = 'voice:' || seat.id and regexp_replace(track.name, ' \\(.*\\)$', '') <> $2)
          and jsonb_path_exists(take.plan, '$.seats[*].id ? (@ == $id)', jsonb_build_object('id', seat.id)))
     select take, episode, array_agg(seat) as seats from theirs group by take, episode`,
    [show, name],
  );
  return rows;
}

async function requireQuiet(db: Querier, episodes: readonly string[], takes: readonly string[]): Promise<void> {
  const { rows: calls } = await db.query<{ title: string }>('select title from episode where id = any ($1) and call_started_at is not null', [episodes]);
  if (calls.length > 0) throw new HttpError(409, 'call-runs', `A call of “${calls[0].title}” runs. End it first.`);
  const { rows: open } = await db.query<{ number: number; title: string }>(
    `select take.number, episode.title from take join episode on episode.id = take.episode_id where take.id = any ($1) and take.state = 'recording'`,
    [takes],
  );
  if (open.length > 0) throw new HttpError(409, 'take-open', `Take ${open[0].number} of “${open[0].title}” is open. Seal it first; what is still on a desk’s disk would come after.`);
}

/** Everything they were called: by the host, and by themselves when they agreed. A short name that another guest has as well is left. */
async function namesOf(db: Querier, seats: readonly { episode: string; seats: string[] }[], takes: readonly InTake[], name: string): Promise<string[]> {
  const places = [...seats, ...takes].flatMap(({ episode, seats: ids }) => ids.map((id) => ({ episode, id })));
  const [episodes, ids] = [places.map(({ episode }) => episode), places.map(({ id }) => id)];
  const theirs = 'join unnest($1::uuid[], $2::text[]) as place (episode, seat) on';
  const { rows } = await db.query<{ name: string }>(
    `select person.name from seat join person on person.id = seat.person_id ${theirs} place.episode = seat.episode_id and place.seat = seat.id where person.full_name = $3
     union select consent.name from consent ${theirs} place.episode = consent.episode_id and place.seat = consent.seat_id
     union select take_consent.name from take_consent join take on take.id = take_consent.take_id ${theirs} place.episode = take.episode_id and place.seat = take_consent.seat_id where take.id = any ($4)
     union select found->>'name' from take cross join lateral jsonb_array_elements(take.plan->'seats') as found ${theirs} place.episode = take.episode_id and place.seat = found->>'id' where take.id = any ($4)`,
    [episodes, ids, name, takes.map(({ take }) => take)],
  );
  const { rows: others } = await db.query<{ name: string }>(
    `select distinct person.name from seat join person on person.id = seat.person_id where seat.episode_id = any ($1) and person.full_name <> $2`,
    [episodes, name],
  );
  const shared = new Set(others.map((other) => other.name.toLowerCase()));
  return [...new Set([name, ...rows.map((row) => row.name)])].filter((one) => one === name || (one !== ERASED_NAME && !shared.has(one.toLowerCase())));
}

/** What stands for each seat from now on, where nobody else stands. */
async function newIds(db: Querier, episode: string, ids: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ id: string }>(
    `select id from seat where episode_id = $1
     union select found->>'id' from take, jsonb_array_elements(take.plan->'seats') as found where take.episode_id = $1
     union select substr(recorded, 7) from track join take on take.id = track.take_id where take.episode_id = $1 and track.kind = 'voice'`,
    [episode],
  );
  const taken = rows.map(({ id }) => id);
  return new Map(
    ids.map((id) => {
      const instead = seatIdFor('erased', taken);
      taken.push(instead);
      return [id, instead];
    }),
  );
}

async function eraseInTake(db: Querier, { take, seats }: InTake, who: Erased, erasure: Erasure): Promise<void> {
  const recorded = seats.flatMap((seat) => [`voice:${seat}`, `talkback:${seat}`, `return:${seat}`, `processed:${seat}`]);
  const { rows: gone } = await db.query<{ kind: string }>('delete from track where take_id = $1 and (recorded = any ($2) or kind = any ($3)) returning kind', [take, recorded, MIXES]);
  const mixes = gone.filter(({ kind }) => MIXES.includes(kind)).length;
  erasure.mixes += mixes;
  erasure.tracks += gone.filter(({ kind }) => !MIXES.includes(kind) && !(DERIVED_KINDS as readonly string[]).includes(kind)).length;
  await db.query('delete from home_recording where take_id = $1 and seat_id = any ($2)', [take, seats]);
  // Files and findings that were made with them. Checks can be asked for again.
  await db.query('delete from task where take_id = $1', [take]);
  await db.query('delete from take_line_report where take_id = $1 and seat_id = any ($2)', [take, seats]);
  await db.query('update take_consent set name = $3, wording = $4, erased_at = now() where take_id = $1 and seat_id = any ($2)', [take, seats, ERASED_NAME, 'Everything of this guest was erased.']);
  for (const [seat, instead] of who.seats) await db.query('update take_consent set seat_id = $3 where take_id = $1 and seat_id = $2', [take, seat, instead]);

  await rewrite(db, 'take', ['id'], ['plan', 'hands', 'not_recorded', 'pauses'], ['name', 'note'], 'id = $1', [take], who);
  await rewrite(db, 'take_plan_change', ['take_id', 'place'], ['plan', 'hands'], ['words'], 'take_id = $1', [take], who);
  await rewrite(db, 'take_plugs', ['take_id', 'at_sample'], ['plugs'], [], 'take_id = $1', [take], who);
  await rewrite(db, 'take_marker', ['id'], [], ['name'], 'take_id = $1', [take], who);
  await rewrite(db, 'track', ['id'], ['made'], ['name'], 'take_id = $1', [take], who);
}

async function eraseInEpisode(db: Querier, episode: string, who: Erased): Promise<void> {
  const ids = [...who.seats.keys()];
  await db.query('delete from open_window where episode_id = $1 and party = any ($2)', [episode, ids]);
  // Offers and answers name addresses; what was said to the others names whoever was in.
  await db.query('delete from message where episode_id = $1', [episode]);
  await db.query('delete from seat where episode_id = $1 and id = any ($2)', [episode, ids]);
  await rewrite(db, 'hearing_plan', ['episode_id'], ['body'], [], 'episode_id = $1', [episode], who);
  await rewrite(db, 'plan_version', ['episode_id', 'version'], ['body'], [], 'episode_id = $1', [episode], who);
  // A desk that is open has the plan as it was, and must not store it again.
  await db.query(`with newer as (update hearing_plan set version = version + 1 where episode_id = $1 returning version, body) insert into plan_version (episode_id, version, body) select $1, version, body from newer`, [episode]);
  await rewrite(db, 'line_check', ['id'], ['found'], [], 'episode_id = $1', [episode], who);
  await rewrite(db, 'episode', ['id'], [], ['title'], 'id = $1', [episode], who);
  await rewrite(db, 'broadcast', ['id'], [], ['title', 'reason'], 'episode_id = $1', [episode], who);
  await rewrite(db, 'air_title', ['id'], [], ['text'], 'broadcast_id in (select id from broadcast where episode_id = $1)', [episode], who);
}

/** What was written down about the show, outside the episodes they were in; there a short name may be another's. */
async function eraseWords(db: Querier, show: string, names: readonly string[], name: string): Promise<void> {
  await rewrite(db, 'audit_event', ['id'], [], ['words'], 'show_id = $1', [show], { seats: new Map(), names });
  const byWholeName = { seats: new Map<string, string>(), names: [name] };
  const takes = 'take_id in (select take.id from take join episode on episode.id = take.episode_id where show_id = $1)';
  await rewrite(db, 'episode', ['id'], [], ['title'], 'show_id = $1', [show], byWholeName);
  await rewrite(db, 'take', ['id'], [], ['name', 'note'], 'episode_id in (select id from episode where show_id = $1)', [show], byWholeName);
  await rewrite(db, 'take_marker', ['id'], [], ['name'], takes, [show], byWholeName);
  const { rows } = await db.query<{ id: string }>(
    `select distinct found->>'id' as id from named_plan, jsonb_array_elements(body->'seats') as found where show_id = $1 and found->>'role' <> 'host' and found->>'name' = any ($2)`,
    [show, names],
  );
  const seats = new Map(rows.map(({ id }, k) => [id, k === 0 ? 'erased' : `erased-${k + 1}`]));
  await rewrite(db, 'named_plan', ['show_id', 'name'], ['body'], ['name'], 'show_id = $1', [show], { seats, names });
}

/** Reads rows page by page, takes somebody out of their JSON and their words, and writes back those that changed. */
async function rewrite(db: Querier, table: string, key: string[], json: string[], words: string[], where: string, values: unknown[], who: Erased): Promise<void> {
  for (let from = 0; ; from += PAGE) {
    const { rows } = await db.query<Record<string, unknown>>(`select ${[...key, ...json, ...words].join(', ')} from ${table} where ${where} order by ${key.join(', ')} limit ${PAGE} offset ${from}`, values);
    for (const row of rows) {
      const changed = new Map<string, unknown>();
      for (const column of json) {
        const after = JSON.stringify(eraseInJson(row[column], who));
        if (after !== JSON.stringify(row[column])) changed.set(column, after);
      }
      for (const column of words) {
        const before = row[column];
        const after = typeof before === 'string' ? eraseInText(before, who) : before;
        if (after !== before) changed.set(column, after);
      }
      if (changed.size === 0) continue;
      const sets = [...changed.keys()].map((column, k) => `${column} = $${k + 1}`);
      const keys = key.map((column, k) => `${column} = $${changed.size + k + 1}`);
      await db.query(`update ${table} set ${sets.join(', ')} where ${keys.join(' and ')}`, [...changed.values(), ...key.map((column) => row[column])]);
    }
    if (rows.length < PAGE) return;
  }
}
