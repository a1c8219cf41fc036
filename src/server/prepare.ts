// Run by the start command and the tests before the server: schema, then the demo's show and host.
import { anyAccount } from './access/accounts';
import { connect } from './database';
import { seedDemo, seedDemoHost } from './demo/seed';
import { migrate } from './migrate';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set.');
const applied = await migrate(url);
const pool = connect(url);
const demo = process.env.DEMO === '1';
const seeded = demo && (await seedDemo(pool));
if (demo) await seedDemoHost(pool);
const accounts = await anyAccount(pool);
await pool.end();
console.log(JSON.stringify({ applied, seeded, accounts }));
