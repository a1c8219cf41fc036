// The practice radio: a radio server on this machine, for the demo and for rehearsing. Started with the product.
import { startRadioServer } from './radio-server';

const { PRACTICE_RADIO_PORT, PRACTICE_RADIO_PASSWORD } = process.env;
if (!PRACTICE_RADIO_PASSWORD) throw new Error('PRACTICE_RADIO_PASSWORD is not set. Start the product with "npm start", which makes one.');
const radio = await startRadioServer(Number(PRACTICE_RADIO_PORT), 'source', PRACTICE_RADIO_PASSWORD);

const stop = (): void => void radio.close().then(() => process.exit(0));
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, stop);
process.on('disconnect', stop);
