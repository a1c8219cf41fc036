import { execFileSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import http from 'node:http';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { joinPackets, PACKET_SAMPLES } from '@/core/air/packets';
import { NEW_STATION, type StationSettings, type StreamCoding } from '@/core/air/station';
import { demoEpisode, testDatabase } from '../testing/test-database';
import { codedTone, TONE_DB } from '../testing/coded-tone';
import { beginBroadcast, endBroadcast, findBroadcast, keepPiece, listTitles, runningBroadcasts, sayTitle } from './broadcasts';
import { startRadioServer, type RadioServer } from './radio-server';
import { BroadcastRun } from './run-broadcast';
import { seal, unseal } from './secret';
import { addStation, changeStation, listStations, passwordOf, removeStation } from './stations';
import { refusalOf } from './target';
import { titlesAsCsv } from './titles-table';

const db = testDatabase();
const RATE = 48_000;
process.env.SECRET_KEY = randomBytes(32).toString('base64');

const world = async () => {
  const episode = await demoEpisode(db.pool());
  const { rows } = await db.pool().query<{ show: string }>('select show_id as show from episode where id = $1', [episode]);
  return { episode, show: rows[0].show };
};
const settings = (change: Partial<StationSettings> = {}): StationSettings => ({ ...NEW_STATION, ...change });

describe('a station', () => {
  it('keeps its password encrypted, gives it to nobody, and forgets it when the address is another one', async () => {
    const { show } = await world();
    const at = (mount: string) => settings({ name: 'Ours', address: `http://127.0.0.1:9/${mount}` });
    const station = await addStation(db.pool(), show, at('one'), 'kettle & rope');
    expect(station).toMatchObject({ hasPassword: true, settings: { name: 'Ours' } });
    expect(JSON.stringify(await listStations(db.pool(), show))).not.toContain('kettle');
    const { rows } = await db.pool().query<{ password: Buffer }>('select password from station where id = $1', [station.id]);
    expect(rows[0].password.toString('latin1')).not.toContain('kettle');
    expect(await passwordOf(db.pool(), station.id, station.settings)).toBe('kettle & rope');
    expect(await changeStation(db.pool(), show, station.id, { ...at('one'), about: 'Ferries' }, null)).toMatchObject({ hasPassword: true });
    expect(await changeStation(db.pool(), show, station.id, at('two'), null)).toMatchObject({ hasPassword: false });
    await expect(passwordOf(db.pool(), station.id, at('two'))).rejects.toThrow('no password yet');
    await removeStation(db.pool(), show, station.id);
    await expect(removeStation(db.pool(), show, station.id)).rejects.toMatchObject({ status: 404 });
  });

  it('has secrets that open with the same key, for the same purpose, unaltered', () => {
    const sealed = seal('kettle', 'a');
    expect(unseal(sealed, 'a')).toBe('kettle');
    expect(() => unseal(sealed, 'b')).toThrow();
    sealed[sealed.length - 1] ^= 1;
    expect(() => unseal(sealed, 'a')).toThrow();
  });

  it('is reached only where whoever runs this allows it', async () => {
    const { show } = await world();
    await expect(addStation(db.pool(), show, settings({ address: 'http://169.254.169.254/latest' }), 'x')).rejects.toMatchObject({ status: 400, message: expect.stringContaining('AIR_HOSTS') });
    expect(refusalOf('https://radio.example:8443/a', ['radio.example'])).toBeNull();
    expect(refusalOf('https://radio.example:8443/a', ['radio.example:8443'])).toBeNull();
    expect(refusalOf('https://radio.example:8444/a', ['radio.example:8443'])).toContain('radio.example:8443');
    expect(refusalOf('http://localhost:8000/a', [])).toBeNull();
    expect(refusalOf('http://127.0.0.1.evil.example/a', [])).not.toBeNull();
  });
});

/** Everything a listener is given until the stream ends. */
function listen(port: number, mount: string): Promise<{ bytes: Buffer; headers: http.IncomingHttpHeaders }> {
  return new Promise((resolve, reject) => {
    http.get({ host: '127.0.0.1', port, path: mount, agent: false }, (response) => {
      const parts: Buffer[] = [];
      response.on('data', (part: Buffer) => parts.push(part));
      response.on('error', () => undefined);
      response.on('close', () => resolve({ bytes: Buffer.concat(parts), headers: response.headers }));
    }).on('error', reject);
  });
}

/** What another program makes of a stream, mono at 48 kHz. */
function decoded(bytes: Buffer): Float32Array {
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-af', 'pan=mono|c0=0.5*c0+0.5*c1', '-ar', '48000', '-f', 'f32le', 'pipe:1'], { input: bytes, maxBuffer: 1e8 });
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength));
}

const rmsDb = (samples: Float32Array): number => 10 * Math.log10(samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length);

describe('a broadcast', () => {
  let radio: RadioServer;
  let run: BroadcastRun | null = null;
  let ending = false;
  let stepping: ReturnType<typeof setInterval>;

  beforeEach(async () => {
    process.env.PRACTICE_RADIO_PASSWORD = 'kettle';
    radio = await startRadioServer(0, 'source', 'kettle');
    process.env.PRACTICE_RADIO = `http://127.0.0.1:${radio.port}`;
    ending = false;
    stepping = setInterval(() => void run?.step(ending), 50);
  });
  afterEach(async () => {
    clearInterval(stepping);
    run?.stop();
    run = null;
    await radio.close();
    await db.pool().query('update broadcast set ended_at = now() where ended_at is null');
    await db.pool().query('delete from station');
  });

  /** Goes on the air, and feeds a tone as a desk does: half a second every half second. */
  async function onAir(coding: StreamCoding, change: Partial<StationSettings> = {}) {
    const { episode, show } = await world();
    const station = await addStation(db.pool(), show, settings({ coding, ...change }), null);
    const { id } = await beginBroadcast(db.pool(), episode, station.id);
    const [work] = await runningBroadcasts(db.pool());
    run = new BroadcastRun(db.pool(), work);
    await run.begin();
    const pieces = await codedTone(coding, 12);
    const samples = PACKET_SAMPLES[coding.codec] * pieces[0].length;
    let number = 0;
    const feed = async () => {
      if (number < pieces.length) await keepPiece(db.pool(), episode, id, { number, session: 1, from: number * samples, samples, lateMs: 0 }, joinPackets(pieces[number]));
      number++;
    };
    return {
      id, episode, samples, feed,
      now: () => findBroadcast(db.pool(), episode, id),
      title: (text: string) => sayTitle(db.pool(), episode, id, { text, by: 'typed', session: 1, sample: number * samples }),
      end: async () => {
        await endBroadcast(db.pool(), episode, id, 'The host ended the call.');
        ending = true;
        await expect.poll(() => findBroadcast(db.pool(), episode, id).then(({ state }) => state)).toBe('ended');
      },
    };
  }

  const status = async (): Promise<{ mount: string; title: string; name: string }[]> => (await fetch(`http://127.0.0.1:${radio.port}/status.json`)).json() as Promise<{ mount: string; title: string; name: string }[]>;
  const every = (ms: number, work: () => Promise<void>) => {
    const timer = setInterval(() => void work(), ms);
    return () => clearInterval(timer);
  };

  it.each<[StreamCoding, boolean]>([[{ codec: 'mp3', kbps: 128 }, false], [{ codec: 'opus', kbps: 96 }, true]])('as %o arrives as loud as it was, with its titles in order', async (coding, chunked) => {
    const air = await onAir(coding, { chunked });
    await air.title('First');
    const stop = every(500, air.feed);
    await expect.poll(() => air.now().then(({ state }) => state), { timeout: 5000 }).toBe('on');
    const heard = listen(radio.port, '/practice');
    await expect.poll(async () => (await status())[0].title, { timeout: 5000 }).toBe('First');
    await air.title('Second: Łódź');
    await expect.poll(async () => (await status())[0].title, { timeout: 5000 }).toBe('Second: Łódź');
    await expect.poll(async () => (await air.now()).nextPiece, { timeout: 8000 }).toBeGreaterThan(10);
    stop();
    await air.end();
    const sound = decoded((await heard).bytes);
    expect(sound.length / RATE).toBeGreaterThan(2.5);
    expect(rmsDb(sound.subarray(RATE / 2, sound.length - RATE / 4))).toBeCloseTo(TONE_DB - 3.01, 1);
    expect(await air.now()).toMatchObject({ state: 'ended', reason: 'The host ended the call.', reconnections: 0, droppedMs: 0, onSince: null });
    const titles = await listTitles(db.pool(), air.id);
    expect(titles.map(({ text, sentAt }) => [text, sentAt !== null])).toEqual([['First', true], ['Second: Łódź', true]]);
    expect(titlesAsCsv(titles, (await air.now()).startedAt)).toContain('Second: Łódź,typed');
  }, 30_000);

  it('is taken up again by itself when the server was lost, with its title, and drops only what is old', async () => {
    const air = await onAir({ codec: 'mp3', kbps: 64 });
    await air.title('Before');
    const stop = every(500, air.feed);
    await expect.poll(() => air.now().then(({ state }) => state), { timeout: 5000 }).toBe('on');
    await radio.close();
    await expect.poll(() => air.now().then(({ state, reason }) => [state, reason]), { timeout: 5000 }).toEqual(['away', 'Nothing answers at this address and port.']);
    expect((await air.now()).onSince).toBeNull();
    radio = await startRadioServer(radio.port, 'source', 'kettle');
    await expect.poll(() => air.now().then(({ state, reconnections }) => [state, reconnections]), { timeout: 20_000 }).toEqual(['on', 1]);
    await expect.poll(async () => (await status())[0]?.title).toBe('Before');
    stop();
    await air.end();
  }, 40_000);

  it('says what is wrong and ends when trying again cannot help', async () => {
    process.env.PRACTICE_RADIO_PASSWORD = 'another';
    const air = await onAir({ codec: 'mp3', kbps: 64 });
    await air.feed();
    await expect.poll(() => air.now().then(({ state, reason }) => [state, reason]), { timeout: 5000 }).toEqual(['ended', 'The server did not take the user name or the password.']);
    await expect(air.feed()).rejects.toMatchObject({ status: 410, message: expect.stringContaining('password') });
  });

  it('goes to no other address than the chosen one', async () => {
    const elsewhere = http.createServer((_, response) => response.writeHead(307, { location: 'http://127.0.0.1:1/' }).end()).listen(0, '127.0.0.1');
    await new Promise((resolve) => elsewhere.once('listening', resolve));
    elsewhere.on('checkContinue', (_, response) => response.writeHead(307, { location: 'http://127.0.0.1:1/' }).end());
    process.env.PRACTICE_RADIO = `http://127.0.0.1:${(elsewhere.address() as { port: number }).port}`;
    const air = await onAir({ codec: 'mp3', kbps: 64 });
    await air.feed();
    await expect.poll(() => air.now().then(({ state, reason }) => [state, reason]), { timeout: 5000 }).toEqual(['ended', expect.stringContaining('somewhere else')]);
    elsewhere.close();
  });

  it('is one at a time for a station, keeps a piece once, and makes room for the next when it ends', async () => {
    const { episode, show } = await world();
    const { id: station } = await addStation(db.pool(), show, settings(), null);
    const first = await beginBroadcast(db.pool(), episode, station);
    await expect(beginBroadcast(db.pool(), episode, station)).rejects.toMatchObject({ status: 409 });
    const facts = { number: 0, session: 1, from: 0, samples: 960, lateMs: 0 };
    for (let k = 0; k < 2; k++) expect(await keepPiece(db.pool(), episode, first.id, facts, Uint8Array.of(1, 0, 7))).toMatchObject({ nextPiece: 1 });
    const { rows } = await db.pool().query('select number from air_piece where broadcast_id = $1', [first.id]);
    expect(rows).toEqual([{ number: 0 }]);
    await endBroadcast(db.pool(), episode, first.id, 'Enough.');
    await expect(keepPiece(db.pool(), episode, first.id, { ...facts, number: 1 }, Uint8Array.of(1, 0, 7))).rejects.toMatchObject({ status: 410 });
    expect(await beginBroadcast(db.pool(), episode, station)).toMatchObject({ state: 'waiting', name: 'Practice radio' });
    await expect(beginBroadcast(db.pool(), episode, randomUUID())).rejects.toMatchObject({ status: 404 });
    await expect(keepPiece(db.pool(), randomUUID(), first.id, facts, Uint8Array.of(1, 0, 7))).rejects.toMatchObject({ status: 404 });
  });
});

describe('the practice radio', () => {
  it('gives titles inside the stream to whoever asks for them, and refuses strangers and second sources', async () => {
    const radio = await startRadioServer(0, 'source', 'kettle');
    const ask = (options: http.RequestOptions) => new Promise<http.IncomingMessage>((resolve, reject) => http.request({ host: '127.0.0.1', port: radio.port, agent: false, ...options }, resolve).on('error', reject).end());
    const authorization = `Basic ${Buffer.from('source:kettle').toString('base64')}`;
    expect((await ask({ method: 'PUT', path: '/x', headers: { 'content-type': 'audio/mpeg' } })).statusCode).toBe(401);
    expect((await ask({ method: 'PUT', path: '/x', headers: { authorization, 'content-type': 'text/html' } })).statusCode).toBe(415);
    expect((await ask({ path: '/x' })).statusCode).toBe(404);
    const source = http.request({ host: '127.0.0.1', port: radio.port, agent: false, method: 'PUT', path: '/x', headers: { authorization, 'content-type': 'audio/mpeg' } });
    source.on('error', () => undefined);
    source.write(Buffer.alloc(1000, 1));
    await expect.poll(async () => ((await (await fetch(`http://127.0.0.1:${radio.port}/status.json`)).json()) as unknown[]).length).toBe(1);
    expect((await ask({ method: 'PUT', path: '/x', headers: { authorization, 'content-type': 'audio/mpeg' } })).statusCode).toBe(403);
    expect((await ask({ path: '/admin/metadata?mode=updinfo&mount=/x&song=A%20title', headers: { authorization } })).statusCode).toBe(200);
    const listener = await ask({ path: '/x', headers: { 'icy-metadata': '1' } });
    expect(listener.headers['icy-metaint']).toBe('16000');
    source.write(Buffer.alloc(20_000, 2));
    let heard = Buffer.alloc(0);
    for await (const part of listener as AsyncIterable<Buffer>) {
      heard = Buffer.concat([heard, part]);
      if (heard.length > 16_100) break;
    }
    expect(heard[16_000] * 16).toBeGreaterThanOrEqual("StreamTitle='A title';".length);
    expect(heard.subarray(16_001, 16_001 + 22).toString()).toBe("StreamTitle='A title';");
    source.destroy();
    await radio.close();
  });
});
