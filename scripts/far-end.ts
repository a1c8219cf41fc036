// An outside program at the far end of two of this computer's devices: simulated people who listen and speak, on the sound
// server's own command-line players. To rehearse with, and for tests.
//   npm run far-end -- --in DEVICE --out DEVICE [--people N] [--fault sends-back|loudspeakers|goes-away] [--seconds S]
// --in is the source it listens to, --out the sink it speaks into; `pactl list short sources` and `… sinks` name them.
import { spawn } from 'node:child_process';
import { parseArgs } from 'node:util';
import { createFarEnd } from '../src/core/practice/far-end';
import { syntheticClip } from '../src/core/practice/synthetic-voice';

const RATE = 48000;
const BLOCK = 480;
const FAULTS = ['sends-back', 'loudspeakers', 'goes-away'] as const;
const AWAY_AFTER_SECONDS = 10;

const { values } = parseArgs({ options: { in: { type: 'string' }, out: { type: 'string' }, people: { type: 'string', default: '1' }, fault: { type: 'string' }, seconds: { type: 'string', default: '0' }, seed: { type: 'string', default: '1' } } });
const people = Number(values.people);
if (!values.in || !values.out || !(people >= 0 && people <= 8) || (values.fault && !FAULTS.includes(values.fault as 'sends-back'))) {
  console.error(`Say which devices: npm run far-end -- --in SOURCE --out SINK [--people 0 to 8] [--fault ${FAULTS.join('|')}] [--seconds S]`);
  process.exit(1);
}

const format = ['--format=float32le', '--channels=1', `--rate=${RATE}`, '--latency-msec=200'];
const ear = spawn('parec', ['-d', values.in, ...format], { stdio: ['ignore', 'pipe', 'inherit'] });
const mouth = spawn('pacat', ['--playback', '-d', values.out, ...format], { stdio: ['pipe', 'ignore', 'inherit'] });
for (const one of [ear, mouth]) one.on('error', (error) => stop(`The sound server’s players are missing (${error.message}). Debian has them in pulseaudio-utils.`));
mouth.stdin.on('error', () => undefined);

const seed = Number(values.seed);
const farEnd = createFarEnd({
  people: Array.from({ length: people }, (_, k) => [syntheticClip(100 * seed + k, 2.5), syntheticClip(100 * seed + k + 50, 1.6)]),
  seed,
  maxBlock: BLOCK,
  sendsBack: values.fault === 'sends-back',
  loudspeakers: values.fault === 'loudspeakers',
});
const block = new Float32Array(BLOCK);
let written = 0;
let waiting = Buffer.alloc(0);

ear.stdout.on('data', (piece: Buffer) => {
  waiting = Buffer.concat([waiting, piece]);
  while (waiting.length >= 4 * BLOCK) {
    const heard = new Float32Array(waiting.buffer.slice(waiting.byteOffset, waiting.byteOffset + 4 * BLOCK));
    waiting = waiting.subarray(4 * BLOCK);
    farEnd.process(heard, block, BLOCK);
    written += BLOCK;
    mouth.stdin.write(Buffer.from(block.slice().buffer));
    if (values.fault === 'goes-away' && written > AWAY_AFTER_SECONDS * RATE) stop('The far end has gone away, as it was told to.', 0);
  }
});

function stop(words: string, code = 1): never {
  console.log(words);
  ear.kill();
  mouth.kill();
  process.exit(code);
}

console.log(`A far end with ${people === 1 ? 'one person' : `${people} people`} listens to ${values.in} and speaks into ${values.out}${values.fault ? `, with this fault: ${values.fault}` : ''}. Ctrl-C ends it.`);
process.on('SIGINT', () => stop('The far end hangs up.', 0));
process.on('SIGTERM', () => stop('The far end hangs up.', 0));
if (Number(values.seconds) > 0) setTimeout(() => stop('The time is over; the far end hangs up.', 0), 1000 * Number(values.seconds));
