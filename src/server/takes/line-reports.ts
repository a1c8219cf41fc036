import { lineReportSchema, type LineReport } from '@/core/lines/line-report';
import type { Querier } from '../database';

export interface TakeLineReport {
  seat: string;
  atSample: number;
  report: LineReport;
}

export async function insertLineReports(db: Querier, take: string, reports: readonly TakeLineReport[]): Promise<void> {
  await db.query(
    `insert into take_line_report (take_id, seat_id, at_sample, report)
     select $1, row.seat, row."atSample", row.report
       from jsonb_to_recordset($2) as row(seat text, "atSample" bigint, report jsonb)
     on conflict do nothing`,
    [take, JSON.stringify(reports)],
  );
}

/** A line is drawn with so many points: one comes every second, and a take may last for hours. */
export const MOST_REPORTS_OF_LINE = 600;

/** In the order of time. Where there are more than can be drawn, the worst of every stretch stands for it: none is hidden by the others. */
export async function listLineReports(db: Querier, take: string): Promise<TakeLineReport[]> {
  const { rows } = await db.query<{ seat: string; at: string; report: unknown }>(
    `with placed as (
       select seat_id, at_sample, report, ntile($2) over (partition by seat_id order by at_sample) as stretch from take_line_report where take_id = $1),
     worst as (
       select distinct on (seat_id, stretch) seat_id, at_sample, report from placed
        order by seat_id, stretch,
                 greatest((report #>> '{toDesk,concealedMs}')::float, (report #>> '{toGuest,concealedMs}')::float) desc nulls last,
                 greatest((report #>> '{toDesk,delayMs}')::float, (report #>> '{toGuest,delayMs}')::float) desc nulls last)
     select seat_id as seat, at_sample as at, report from worst order by at_sample, seat_id`,
    [take, MOST_REPORTS_OF_LINE],
  );
  return rows.map(({ seat, at, report }) => ({ seat, atSample: Number(at), report: lineReportSchema.parse(report) }));
}
