import pg from 'pg';
import { log } from './log';

/** Whoever can run a statement: the pool, or one client inside a transaction. */
export interface Querier {
  query<Row extends pg.QueryResultRow>(text: string, values?: unknown[]): Promise<pg.QueryResult<Row>>;
}

// The development server evaluates modules again on every change; the pool outlives that.
const kept = globalThis as { briskLanternPool?: pg.Pool };

/** The application's pool. @throws {Error} when DATABASE_URL is not set */
export function database(): pg.Pool {
  kept.briskLanternPool ??= connect(process.env.DATABASE_URL);
  return kept.briskLanternPool;
}

const CONNECT_WITHIN_MS = 10_000;
const STATEMENT_WITHIN_MS = 60_000;

/** Connections of one process at most: `DATABASE_CONNECTIONS`, or ten. @throws {Error} when that is no number of connections */
function connectionsAtMost(): number {
  const said = process.env.DATABASE_CONNECTIONS ?? '10';
  const count = Number(said);
  if (!Number.isInteger(count) || count < 2 || count > 500) throw new Error(`DATABASE_CONNECTIONS must be a whole number from 2 to 500; it is “${said}”.`);
  return count;
}

/** A pool of its own, for tests and commands. */
export function connect(url: string | undefined): pg.Pool {
  if (!url) throw new Error('DATABASE_URL is not set. Start the product with "npm start", which sets it.');
  const pool = new pg.Pool({
    connectionString: url,
    max: connectionsAtMost(),
    // Nobody waits without end: neither for a connection, nor for a statement, nor for a transaction that was left.
    connectionTimeoutMillis: CONNECT_WITHIN_MS,
    statement_timeout: STATEMENT_WITHIN_MS,
    idle_in_transaction_session_timeout: STATEMENT_WITHIN_MS,
    keepAlive: true,
  });
  // An idle connection that breaks is replaced by the pool; without a listener it ends the process.
  pool.on('error', (err) => log.warn({ err }, 'a database connection broke'));
  return pool;
}

/** PostgreSQL is shutting down, has crashed, or is not up yet (SQLSTATE class 57, 08); or the socket says so. */
const BROKEN = /^(57P0[123]|08...|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/;

/** Whether a statement failed because the database went away: it says nothing about the statement. */
export function isBrokenConnection(error: unknown): boolean {
  const { code, message } = error as { code?: unknown; message?: unknown };
  return BROKEN.test(String(code)) || String(message).startsWith('Connection terminated');
}

/** What the database itself says is wrong with it for the moment, in words; null for anything else. SQLSTATE classes 53 and 57. */
export function troubleOfDatabase(error: unknown): { status: number; code: string; message: string } | null {
  const { code, message } = error as { code?: unknown; message?: unknown };
  if (code === '53100') return { status: 507, code: 'disk-full', message: 'The disk of the database is full, so nothing more can be kept there. What is recorded stays on your computer and is sent when there is room: remove takes you do not need, or ask whoever runs this server.' };
  if (code === '53300' || String(message).startsWith('timeout exceeded when trying to connect')) return { status: 503, code: 'busy', message: 'The database has no connection free. Try again in a moment; nothing was lost.' };
  if (code === '57014') return { status: 503, code: 'too-slow', message: 'The database took too long for this. Try again; nothing was lost.' };
  return isBrokenConnection(error) ? { status: 503, code: 'database-away', message: 'The database cannot be reached for the moment. Try again; what was already stored is safe.' } : null;
}

/** Runs `work` in one transaction: all of it is kept, or nothing. */
export async function inTransaction<Result>(
  pool: pg.Pool,
  work: (client: pg.PoolClient) => Promise<Result>,
): Promise<Result> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    client.release();
    return result;
  } catch (error) {
    // When even the rollback fails the connection is beyond use and is not given back.
    await client.query('rollback').then(
      () => client.release(),
      (broken: Error) => client.release(broken),
    );
    throw error;
  }
}
