import type pg from 'pg';
import { databaseSpace } from '../disk-space';
import { whoLives } from './beats';

interface Metric {
  name: string;
  help: string;
  type: 'gauge' | 'counter';
  values: [labels: Record<string, string>, value: number][];
}

const COUNTS: readonly [name: string, help: string, text: string][] = [
  ['calls_running', 'Calls that run.', 'select count(*) as value from episode where call_started_at is not null'],
  ['takes_recording', 'Takes that are open.', "select count(*) as value from take where state = 'recording'"],
  ['takes', 'Takes that are kept.', 'select count(*) as value from take'],
  ['sign_ins', 'Browsers that are signed in.', 'select count(*) as value from sign_in where expires_at > now()'],
  ['database_bytes', 'Size of the database, bytes.', 'select pg_database_size(current_database()) as value'],
  ['database_connections', 'Connections to the database, of every instance.', 'select count(*) as value from pg_stat_activity where datname = current_database()'],
];

const GROUPS: readonly [name: string, help: string, label: string, text: string][] = [
  ['tasks', 'Work on takes by its state.', 'state', 'select state as label, count(*) as value from task group by state'],
  ['broadcasts', 'Streams on the air by how they go.', 'state', 'select state as label, count(*) as value from broadcast where ended_at is null group by state'],
];

/** What is measured of this instance and its database, in the open text exposition format (version 0.0.4). */
export async function metrics(pool: pg.Pool): Promise<string> {
  const memory = process.memoryUsage();
  const lives = await whoLives(pool);
  const free = await databaseSpace(pool);
  const one = (name: string, help: string, value: number, type: Metric['type'] = 'gauge'): Metric => ({ name, help, type, values: [[{}, value]] });
  const found: Metric[] = [
    one('process_resident_bytes', 'Memory of this instance, bytes.', memory.rss),
    one('process_uptime_seconds', 'How long this instance has run, s.', process.uptime()),
    one('pool_connections', 'Connections of this instance.', pool.totalCount),
    one('pool_waiting', 'Requests that wait for a connection.', pool.waitingCount),
    { name: 'processes', help: 'Processes beside the servers that live.', type: 'gauge', values: [[{ kind: 'worker' }, lives.worker], [{ kind: 'sender' }, lives.sender]] },
    ...(free === null ? [] : [one('database_free_bytes', 'Free space where the database lies, bytes.', free)]),
  ];
  for (const [name, help, text] of COUNTS) {
    const { rows } = await pool.query<{ value: string }>(text);
    found.push(one(name, help, Number(rows[0].value)));
  }
  for (const [name, help, label, text] of GROUPS) {
    const { rows } = await pool.query<{ label: string; value: string }>(text);
    found.push({ name, help, type: 'gauge', values: rows.map((row) => [{ [label]: row.label }, Number(row.value)]) });
  }
  return found.map(inText).join('');
}

function inText({ name, help, type, values }: Metric): string {
  const full = `brisk_lantern_${name}`;
  const labelled = (labels: Record<string, string>) => {
    const inside = Object.entries(labels).map(([label, value]) => `${label}="${value.replace(/[\\"\n]/g, '')}"`);
    return inside.length === 0 ? '' : `{${inside.join(',')}}`;
  };
  return [`# HELP ${full} ${help}`, `# TYPE ${full} ${type}`, ...values.map(([labels, value]) => `${full}${labelled(labels)} ${value}`), ''].join('\n');
}
