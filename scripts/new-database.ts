// Makes an empty database on a server and prints its address: new-database.ts SERVER_URL NAME
import { randomBytes } from 'node:crypto';
import { connect } from '../src/server/database';

const [server, prefix] = process.argv.slice(2);
const name = `${prefix}_${randomBytes(6).toString('hex')}`;
const pool = connect(server);
await pool.query(`create database ${name}`);
await pool.end();
const url = new URL(server);
url.pathname = `/${name}`;
console.log(url.href);
