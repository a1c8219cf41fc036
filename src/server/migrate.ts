import { runner } from 'node-pg-migrate';

/** Brings a database up to the newest schema. Safe to run from several processes at once. */
export async function migrate(databaseUrl: string): Promise<number> {
  const applied = await runner({
    databaseUrl,
    dir: 'db/migrations',
    direction: 'up',
    migrationsTable: 'schema_migration',
    advisoryLockMode: 'wait',
    log: () => undefined,
  });
  return applied.length;
}
