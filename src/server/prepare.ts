// Run by the start command and the tests before the server: schema, then the demo's show.
import { connect } from './database';
import { seedDemo } from './demo/seed';
import { migrate } from './migrate';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set.');
const applied = await migrate(url);
const pool = connect(url);
const seeded = await seedDemo(pool);
await pool.end();
console.log(JSON.stringify({ applied, seeded }));
