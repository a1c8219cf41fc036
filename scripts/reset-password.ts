// `npm run reset-password -- you@desk.example`: a link by which somebody sets another password, once, within two hours.
import { connect } from '../src/server/database';
import { makeReset } from '../src/server/access/reset-password';
import { runningAddress } from './lock.mjs';
import { runMain, Trouble } from './trouble.mjs';
import { openDatabase } from './which-database.mjs';

await runMain(async () => {
  const [email] = process.argv.slice(2);
  if (!email) throw new Trouble('Say whose: npm run reset-password -- you@desk.example');
  const { url, done } = await openDatabase();
  const pool = connect(url);
  try {
    const token = await makeReset(pool, email);
    if (token === null) throw new Trouble(`Nobody here has the e-mail address ${email}.`);
    const address = process.env.PUBLIC_URL ?? (await runningAddress('data').catch(() => 'http://127.0.0.1:4870'));
    console.log(`Within two hours, once: ${address.replace(/\/+$/, '')}/reset/${token}`);
  } finally {
    await pool.end();
    done();
  }
});
