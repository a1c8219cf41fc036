import type { Pool } from 'pg';
import type { Devtools, Target } from './devtools';
import type { Gap } from './judge';

const MB = 2 ** 20;

/** What the desk and the database say of the last minute. */
export async function inMinute(browser: Devtools, page: Target, pool: Pool): Promise<Record<string, unknown>> {
  const said = await browser.evaluate<string>(page, `document.querySelector('[role="note"][aria-label="This machine"]')?.innerText ?? ''`);
  const keptMb = await browser.evaluate<number>(page, `navigator.storage.estimate().then(({ usage = 0 }) => usage / 2 ** 20)`);
  const take = 'select id from take order by started_at desc limit 1';
  const { rows: lines } = await pool.query<{ seat_id: string; in: number | null; out: number | null; made_up: number }>(
    `select seat_id, percentile_cont(0.5) within group (order by (report->'toDesk'->>'delayMs')::float) as in,
            percentile_cont(0.5) within group (order by (report->'toGuest'->>'delayMs')::float) as out,
            coalesce(sum((report->'toDesk'->>'concealedMs')::float), 0) as made_up
       from take_line_report where take_id = (${take}) and at_sample > (select max(at_sample) - 60 * 48000 from take_line_report where take_id = (${take}))
      group by seat_id`,
  );
  const { rows: causes } = await pool.query<{ cause: string; count: string }>(`select cause, count(*) from gap join track on track.id = track_id where take_id = (${take}) group by cause`);
  const { rows: [disk] } = await pool.query<{ size: string; log: string; rows: string }>(
    'select pg_database_size(current_database()) as size, (select sum(size) from pg_ls_waldir()) as log, (select sum(n_live_tup) from pg_stat_user_tables) as rows',
  );
  return {
    mixingPercent: Number(/(\d+) %/.exec(said)?.[1] ?? NaN),
    dropOuts: Number(/(\d+) drop-outs/.exec(said)?.[1] ?? 0),
    delaysMs: Object.fromEntries(lines.map((line) => [line.seat_id, { in: whole(line.in), out: whole(line.out), madeUp: whole(line.made_up) }])),
    gaps: Object.fromEntries(causes.map(({ cause, count }) => [cause, Number(count)])),
    databaseMb: Math.round(Number(disk.size) / MB),
    logMb: Math.round(Number(disk.log) / MB),
    rows: Number(disk.rows),
    keptMb: Math.round(keptMb),
  };
}

/** Presses a pad of the board, by the words on it. */
export async function pressPad(browser: Devtools, page: Target, name: string): Promise<void> {
  const pads = `[...document.querySelectorAll('[aria-label="Sounds"] button')]`;
  const words = `(pad.getAttribute('aria-label') ?? pad.innerText)`;
  const pressed = await browser.evaluate<boolean>(page, `(() => { const found = ${pads}.find((pad) => ${words}.startsWith(${JSON.stringify(name)})); found?.click(); return found !== undefined; })()`);
  if (!pressed) throw new Error(`There is no pad “${name}” at the desk.`);
}

/** How much of the tracks each cause has taken, s. */
export function secondsByCause(gaps: readonly Gap[]): Record<string, number> {
  const sums: Record<string, number> = {};
  for (const { cause, lengthSamples } of gaps) sums[cause] = (sums[cause] ?? 0) + lengthSamples / 48_000;
  return sums;
}

const whole = (value: number | null): number | null => (value === null ? null : Math.round(value));
