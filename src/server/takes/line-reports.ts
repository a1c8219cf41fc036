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

/** In the order of time. */
export async function listLineReports(db: Querier, take: string): Promise<TakeLineReport[]> {
  const { rows } = await db.query<{ seat: string; at: string; report: unknown }>(
    'select seat_id as seat, at_sample as at, report from take_line_report where take_id = $1 order by at_sample, seat_id',
    [take],
  );
  return rows.map(({ seat, at, report }) => ({ seat, atSample: Number(at), report: lineReportSchema.parse(report) }));
}
