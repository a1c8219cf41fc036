// The sender: gives what desks have on the air to the servers of their stations. Started with the product by the start command.
import { randomUUID } from 'node:crypto';
import { connect } from '../database';
import { sayAlive } from '../health/beats';
import { AirSender } from './air-sender';

const pool = connect(process.env.DATABASE_URL);
const sender = new AirSender(process.env.DATABASE_URL, pool);

function stop(): void {
  sender.stop();
  // What was written goes out before the process does.
  setTimeout(() => process.exit(0), 200);
}
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop);
process.on('disconnect', stop);

sayAlive(pool, `${process.pid}-${randomUUID().slice(0, 8)}`, 'sender');
await sender.run();
