import http from 'node:http';
import { randomBytes } from 'node:crypto';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { joinPackets, PACKET_SAMPLES } from '@/core/air/packets';
import { NEW_STATION, type StreamCoding } from '@/core/air/station';
import { connect } from '../database';
import { codedTone } from '../testing/coded-tone';
import { databaseDoor, type DatabaseDoor } from '../testing/database-door';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { AirSender } from './air-sender';
import { beginBroadcast, findBroadcast, keepPiece } from './broadcasts';
import { startRadioServer, type RadioServer } from './radio-server';
import { addStation } from './stations';

const db = testDatabase();
const CODING: StreamCoding = { codec: 'mp3', kbps: 64 };
process.env.SECRET_KEY = randomBytes(32).toString('base64');

describe('the sender', () => {
  let radio: RadioServer;
  let door: DatabaseDoor;
  /** What ends each thing that was begun, the newest first. */
  let ends: (() => void | Promise<void>)[] = [];

  beforeEach(async () => {
    process.env.PRACTICE_RADIO_PASSWORD = 'kettle';
    radio = await startRadioServer(0, 'source', 'kettle');
    process.env.PRACTICE_RADIO = `http://127.0.0.1:${radio.port}`;
    door = await databaseDoor(db.url());
    ends = [() => radio.close(), () => door.close()];
  });
  afterEach(async () => {
    for (const end of ends.reverse()) await end();
    await db.pool().query('update broadcast set ended_at = now() where ended_at is null');
    await db.pool().query('delete from station');
  });

  function send(url: string, keptMs?: number): void {
    const pool = connect(url);
    const sender = new AirSender(url, pool, keptMs);
    const over = sender.run();
    ends.push(async () => {
      sender.stop();
      await over;
      await pool.end();
    });
  }

  /** A desk that goes on the air and sends half a second every half second, by a database of its own that is never away. */
  async function onAir() {
    const episode = await demoEpisode(db.pool());
    const { rows } = await db.pool().query<{ show: string }>('select show_id as show from episode where id = $1', [episode]);
    const station = await addStation(db.pool(), rows[0].show, { ...NEW_STATION, coding: CODING }, null);
    const { id } = await beginBroadcast(db.pool(), episode, station.id);
    const pieces = await codedTone(CODING, 30);
    const samples = PACKET_SAMPLES.mp3 * pieces[0].length;
    let number = 0;
    const feeding = setInterval(() => {
      if (number < pieces.length) void keepPiece(db.pool(), episode, id, { number, session: 1, from: number * samples, samples, lateMs: 0 }, joinPackets(pieces[number++]));
    }, 500);
    ends.push(() => clearInterval(feeding));
    return () => findBroadcast(db.pool(), episode, id);
  }

  /** What a listener of the station has been given so far, and whether the stream ended. */
  function listener(): { bytes: number; ended: boolean } {
    const heard = { bytes: 0, ended: false };
    const request = http.get({ host: '127.0.0.1', port: radio.port, path: '/practice', agent: false }, (response) => {
      response.on('data', (part: Buffer) => (heard.bytes += part.length));
      response.on('error', () => undefined);
      response.on('close', () => (heard.ended = true));
    });
    request.on('error', () => undefined);
    ends.push(() => void request.destroy());
    return heard;
  }

  it('keeps a stream with its server while the database is away, in silence, and goes on with it', async () => {
    const now = await onAir();
    send(door.url);
    await expect.poll(async () => (await now()).state, { timeout: 8000 }).toBe('on');
    const heard = listener();
    await expect.poll(() => heard.bytes, { timeout: 5000 }).toBeGreaterThan(0);
    door.shut();
    // Nothing but silence can come now.
    const before = { ...heard, ...(await now()) };
    await expect.poll(() => heard.bytes, { timeout: 10_000 }).toBeGreaterThan(before.bytes + 8000);
    door.open();
    await expect.poll(async () => (await now()).sent?.sample ?? 0, { timeout: 10_000 }).toBeGreaterThan(before.sent!.sample + 48_000);
    expect(await now()).toMatchObject({ state: 'on', reconnections: 0 });
    expect((await now()).silenceMs).toBeGreaterThan(500);
    expect(heard.ended, 'the listener heard one stream').toBe(false);
  }, 40_000);

  it('leaves its streams to another sender when it is away for too long', async () => {
    const now = await onAir();
    send(door.url, 300);
    await expect.poll(async () => (await now()).state, { timeout: 8000 }).toBe('on');
    send(db.url());
    door.shut();
    await expect.poll(async () => [(await now()).reconnections, (await now()).state], { timeout: 15_000 }).toEqual([1, 'on']);
    door.open();
    const { sent } = await now();
    await expect.poll(async () => (await now()).sent?.sample ?? 0, { timeout: 10_000 }).toBeGreaterThan(sent!.sample + 48_000);
    expect(await now(), 'the first one does not take it back').toMatchObject({ reconnections: 1, state: 'on' });
  }, 40_000);
});
