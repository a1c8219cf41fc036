import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type pg from 'pg';
import { setCrosspoint } from '@/core/hearing/edit';
import { declareCoupling, type Coupling } from '@/core/hearing/coupling';
import { measureSound } from '@/core/sounds/measure-sound';
import { earsOf, soundsOf, voiceOf, type ListenerId } from '@/core/hearing/ids';
import { BED_DUCKS, FIRST_PLAYERS } from '@/core/hearing/ducking';
import { planText } from '@/core/hearing/stored-plan';
import { createPlan, listenersOf, type Seat } from '@/core/hearing/plan';
import { NEW_STATION } from '@/core/air/station';
import { addStation } from '../air/stations';
import { inTransaction, type Querier } from '../database';
import { insertAccount } from '../access/accounts';
import { insertSound } from '../sounds/queries';
import { soundInMemory } from '../sounds/sound-file';
import { DEMO_PADS, DEMO_PEOPLE, } from './world';

/** The demo's host, without a password: signed in on this machine only. */
const DEMO_HOST = { email: 'maren@ferry-weather.example', name: 'Maren Sollis', passwordHash: null };

/** Gives the demo's host an account where nobody has one, with the keys this machine had. */
export async function seedDemoHost(pool: pg.Pool): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    await client.query('select pg_advisory_xact_lock($1)', [140_711]);
    const { rowCount } = await client.query('select 1 from account limit 1');
    if (rowCount === 1) return false;
    const account = await insertAccount(client, DEMO_HOST);
    await client.query("insert into show_member (show_id, account_id, role) select id, $1, 'owner' from show", [account]);
    await client.query('insert into account_keys (account_id, bindings) select $1, bindings from host_keys', [account]);
    return true;
  });
}

/** Puts the demo's show into an empty database. Does nothing where any show exists. */
export async function seedDemo(pool: pg.Pool): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    // Two processes may start at once; the second waits here and then finds the show.
    await client.query('select pg_advisory_xact_lock($1)', [140_711]);
    const { rows } = await client.query<{ shows: string }>('select count(*) as shows from show');
    if (rows[0].shows !== '0') return false;
    await insertDemo(client, 'ferry-weather');
    return true;
  });
}

/** Puts the demo's show beside whatever there is. Returns the show and its episode. */
export async function insertDemo(db: Querier, slug: string): Promise<{ show: string; episode: string }> {
  const show = await insertReturningId(db, `insert into show (slug, name, demo) values ($1, 'Ferry Weather', true) returning id`, [slug]);
  const episode = await insertReturningId(db, `insert into episode (show_id, number, title) values ($1, 14, 'The last chain ferry') returning id`, [show]);
  const seats = await seedSeats(db, show, episode);
  await seedPads(db, show, episode);
  await seedStation(db, show);
  const plan = { ...quieterSounds(createPlan(seats, FIRST_PLAYERS)), ducking: BED_DUCKS, couplings: loudspeakersOf(), waiting: byOtherPrograms() };
  await db.query('insert into hearing_plan (episode_id, body) values ($1, $2)', [episode, planText(plan)]);
  return { show, episode };
}

async function seedSeats(client: Querier, show: string, episode: string): Promise<Seat[]> {
  for (const [place, person] of DEMO_PEOPLE.entries()) {
    const id = await insertReturningId(
      client,
      'insert into person (show_id, name, full_name, about, reflexive) values ($1, $2, $3, $4, $5) returning id',
      [show, person.name, person.fullName, person.about, person.reflexive],
    );
    await client.query(
      `insert into seat (episode_id, id, person_id, place, role, line, practice)
       values ($1, $2, $3, $4, $5, $6, $7)`,
      [episode, person.id, id, place, person.role, person.line, person.practice && JSON.stringify(person.practice)],
    );
  }
  return DEMO_PEOPLE.map(({ id, name, role, line, reflexive }) => ({ id, name, role, line, reflexive }));
}

/** Where the demo can be sent to, with nothing more to set. */
const seedStation = (client: Querier, show: string) => addStation(client, show, { ...NEW_STATION, about: 'What the demo’s audience hears' }, null);

async function seedPads(client: Querier, show: string, episode: string): Promise<void> {
  const decoder = new FLACDecoder();
  await decoder.ready;
  for (const [place, pad] of DEMO_PADS.entries()) {
    const fileName = `${pad.file}.flac`;
    const audio = await readFile(join('public/practice/sounds', fileName));
    const { channelData } = await decoder.decodeFile(audio);
    const sound = await insertSound(client, {
      show,
      name: pad.name,
      kind: pad.kind,
      credit: 'credit' in pad ? pad.credit : '',
      fileName,
      mediaType: 'audio/flac',
      file: soundInMemory(audio),
      measures: measureSound(channelData),
    });
    await client.query(
      `insert into pad (episode_id, place, sound_id, player, key, mode, again, level_db)
       values ($1, $2, $3, $4, $5, $6, $7, $8)`,
      [episode, place, sound, pad.player, pad.key, pad.mode, pad.again, pad.levelDb],
    );
  }
  decoder.free();
}

/** What the demo's people on loudspeakers do to the call, as the host has noted it. */
function loudspeakersOf(): Coupling[] {
  return DEMO_PEOPLE.filter(({ practice }) => practice?.loudspeakers).map(({ id }) => declareCoupling('loudspeakers', earsOf(id), voiceOf(id)));
}

/** Whoever comes by another program waits until they are brought up. */
const byOtherPrograms = (): string[] => DEMO_PEOPLE.filter(({ role, line }) => role === 'caller' && line === 'pair').map(({ id }) => id);

/** Callers and phones hear the sounds under the voices; the program hears them as they are. */
function quieterSounds(plan: ReturnType<typeof createPlan>) {
  let changed = plan;
  for (const listener of listenersOf(plan)) {
    if (listener.kind === 'program') continue;
    for (const { id } of FIRST_PLAYERS) changed = quieter(changed, id, listener.id);
  }
  return changed;
}

const quieter = (plan: ReturnType<typeof createPlan>, player: string, listener: ListenerId) =>
  setCrosspoint(plan, soundsOf(player), listener, { open: true, gainDb: -6 });

async function insertReturningId(client: Querier, text: string, values: unknown[]): Promise<string> {
  const { rows } = await client.query<{ id: string }>(text, values);
  return rows[0].id;
}
