import type pg from 'pg';
import { KNOWN_BROWSER_DAYS } from '../access/known-browsers';
import { inTransaction } from '../database';
import { homeQuotas } from '../home/home-limits';
import { placeHomes } from '../home/receive-home';
import { BIN_DAYS } from '../takes/bin';

/**
 * How long everything is kept that is of no use for ever. What people made (shows, episodes, plans in force, sounds, takes
 * that are not in the bin, consents kept with a take) is not among it. `docs/DATA.md` says the same to whoever runs a server.
 */
export const KEPT = Object.freeze({
  /** Call set-up messages hold network addresses; whoever did not come for one by then needs a new one. */
  messageMinutes: 60,
  /** Places of windows whose server died. */
  windowHours: 24,
  /** Counts of attempts. */
  attemptDays: 1,
  /** Guests' and colleagues' links after they ended: until then they say why they let nobody in. */
  endedLinkDays: 90,
  /** Older versions of a plan, and how many of them at least. */
  planVersionDays: 90,
  planVersions: 50,
  /** Files that were made for downloading; they can be made again. */
  exportDays: 14,
  /** Work that failed or was cancelled. */
  endedTaskDays: 30,
  /** What guests agreed to before a recording that never was; what belongs to a take stays with it. */
  consentDays: 400,
  /** Who did what. */
  eventDays: 400,
  /** What was on the air, with its titles: a year’s report to rights holders, and some. */
  broadcastDays: 400,
  knownBrowserDays: KNOWN_BROWSER_DAYS,
  binDays: BIN_DAYS,
});

const days = (count: number) => `now() - interval '${count} days'`;

/** Each statement by what it removes. */
const STATEMENTS: readonly [what: string, text: string][] = [
  ['messages', `delete from message where sent_at < now() - interval '${KEPT.messageMinutes} minutes'`],
  ['windows', `delete from open_window where seen_at < now() - interval '${KEPT.windowHours} hours'`],
  ['attempts', `delete from attempt_count where began_at < ${days(KEPT.attemptDays)}`],
  ['password resets', 'delete from password_reset where expires_at < now()'],
  ['sign-ins', 'delete from sign_in where expires_at < now()'],
  ['known browsers', `delete from known_browser where seen_at < ${days(KEPT.knownBrowserDays)}`],
  ['invitations', `delete from invitation where coalesce(revoked_at, expires_at) < ${days(KEPT.endedLinkDays)}`],
  ['colleagues’ links', `delete from colleague_link where least(coalesce(used_at, expires_at), coalesce(revoked_at, expires_at), expires_at) < ${days(KEPT.endedLinkDays)}`],
  [
    'plan versions',
    `delete from plan_version old where stored_at < ${days(KEPT.planVersionDays)}
       and version <= (select max(version) - ${KEPT.planVersions} from plan_version newer where newer.episode_id = old.episode_id)`,
  ],
  ['exports', `delete from task where kind = 'export' and state = 'done' and ended_at < ${days(KEPT.exportDays)}`],
  ['ended tasks', `delete from task where state in ('failed', 'cancelled') and ended_at < ${days(KEPT.endedTaskDays)}`],
  ['consents', `delete from consent where agreed_at < ${days(KEPT.consentDays)}`],
  ['events', `delete from audit_event where at < ${days(KEPT.eventDays)}`],
  ['broadcasts', `delete from broadcast where ended_at < ${days(KEPT.broadcastDays)}`],
  ['processes that ended', `delete from process_beat where seen_at < now() - interval '1 hour'`],
  ['measuring that was broken off', `delete from take_measuring where heard_at < now() - interval '1 hour'`],
  ['pieces for the air', `delete from air_piece where came_at < now() - interval '1 hour'`],
  ['takes in the bin', `delete from take where binned_at < ${days(KEPT.binDays)}`],
  // A page that went before it had kept anything, and one whose key nobody will use again.
  ['empty home recordings', `delete from home_recording where length_samples is null and stored_bytes = 0 and began_at < ${days(1)} and heard_at < ${days(1)}`],
];

/** Removes what is too old, each kind by itself. Returns how many rows of each kind went. */
export async function sweep(pool: pg.Pool): Promise<Record<string, number>> {
  const gone: Record<string, number> = {};
  for (const [what, text] of STATEMENTS) {
    gone[what] = await inTransaction(pool, async (client) => {
      // A take in the bin may hold gigabytes.
      await client.query('set local statement_timeout = 0');
      return (await client.query(text)).rowCount ?? 0;
    });
  }
  gone['unfinished home recordings'] = await endUnfinishedHomes(pool);
  return gone;
}

/** What of a home recording came until its deadline is all there is: it ends there, and is placed like any other. */
async function endUnfinishedHomes(pool: pg.Pool): Promise<number> {
  const { rows } = await pool.query<{ take: string }>(
    `with whole as (
       select home.id, sum(frames) as samples from home_recording home join take on take.id = home.take_id join home_chunk on home_id = home.id
        where home.length_samples is null and stored_bytes > 0 and take.sealed_at < now() - make_interval(hours => $1) group by home.id)
     update home_recording set length_samples = samples, kept_samples = samples from whole
      where home_recording.id = whole.id returning take_id as take`,
    [homeQuotas().deadlineHours],
  );
  for (const take of new Set(rows.map((row) => row.take))) await placeHomes(pool, take);
  return rows.length;
}
