import { stringify } from 'csv-stringify/sync';
import type { SentTitle } from '@/core/air/broadcast';
import { guardFormula } from '../takes/plays';

const COLUMNS = ['time (UTC)', 'since the beginning (s)', 'title', 'from', 'taken by the server (UTC)'];

/** Titles as a table any spreadsheet reads (RFC 4180). */
export function titlesAsCsv(titles: readonly SentTitle[], startedAt: string): string {
  const rows = titles.map(({ text, by, saidAt, sentAt }) => ({
    'time (UTC)': saidAt,
    'since the beginning (s)': ((Date.parse(saidAt) - Date.parse(startedAt)) / 1000).toFixed(1),
    title: text,
    from: by,
    'taken by the server (UTC)': sentAt ?? '',
  }));
  return stringify(rows, { header: true, columns: COLUMNS, record_delimiter: 'windows', cast: { string: guardFormula } });
}
