import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { get as getPlain, type IncomingMessage, type RequestListener, type Server } from 'node:http';
import { get } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TLSSocket } from 'node:tls';
import { afterAll, afterEach, describe, expect, it } from 'vitest';
import { mayConnect, trustedProxies } from './forwarded.mjs';
import { houseNames, ownCertificate } from './own-authority.mjs';
import { freePort } from './ports.mjs';
import { reachOf } from './reach.mjs';
import { certificateIn, wantsRenewal, writeCertificate } from './tls-files.mjs';
import { startTestAuthority } from './test-authority';
import { listenPlain, listenTls } from './tls-listener.mjs';

const folder = mkdtempSync(join(tmpdir(), 'tls-'));
afterAll(() => rmSync(folder, { recursive: true }));

const open: (Server | ChildProcess)[] = [];
afterEach(async () => {
  for (const one of open.splice(0)) {
    if ('kill' in one) one.kill();
    else await new Promise((closed) => {
      one.close(closed);
      one.closeAllConnections();
    });
  }
});

const hello: RequestListener = (_, response) => void response.end('hello');
const kept = <One extends Server | ChildProcess>(one: One): One => {
  open.push(one);
  return one;
};

interface Answer {
  status: number;
  text: string;
  headers: IncomingMessage['headers'];
  serial: string;
}

/** Asks by a name that stands for this machine. */
function ask(port: number, path: string, options: { ca?: Buffer; name?: string; plain?: boolean } = {}): Promise<Answer> {
  const { ca, name = 'localhost', plain } = options;
  return new Promise((resolve, reject) => {
    const done = (response: IncomingMessage) => {
      let text = '';
      const serial = plain ? '' : (response.socket as TLSSocket).getPeerCertificate().serialNumber;
      response.on('data', (part: Buffer) => (text += part.toString()));
      response.on('end', () => resolve({ status: response.statusCode ?? 0, text, headers: response.headers, serial }));
    };
    const request = plain ? getPlain({ port, host: '127.0.0.1', path, agent: false }, done) : get({ port, host: '127.0.0.1', servername: name, path, ca, agent: false }, done);
    request.on('error', reject);
  });
}

describe('how it is reached', () => {
  it('follows the words of the start command, and says which do not go together', () => {
    const words = (text: string, settings: Record<string, string> = {}) => reachOf(text.split(' ').filter(Boolean), join(folder, 'reach'), settings as NodeJS.ProcessEnv);
    expect(words('')).toMatchObject({ mode: 'here', server: {}, acme: null });
    expect(words('--public desk.example')).toMatchObject({ mode: 'public', address: 'https://desk.example', server: { TLS_PORT: '443', PLAIN_PORT: '80', PUBLIC_URL: 'https://desk.example' }, acme: { ACME_NAME: 'desk.example' } });
    expect(words('--public desk.example', { TLS_PORT: '8443' }).address).toBe('https://desk.example:8443');
    expect(words('--public desk.example --behind-proxy 127.0.0.1')).toMatchObject({ mode: 'proxy', server: { TRUSTED_PROXIES: '127.0.0.1', PUBLIC_URL: 'https://desk.example' }, acme: null });
    expect(words('--public desk.example --behind-proxy 10.0.0.7').server.LISTEN).toBe('::');
    for (const [wrong, why] of [['--public', 'needs a value'], ['--public desk', 'no name'], ['--lan --public desk.example', 'Choose one'], ['--behind-proxy 127.0.0.1', 'by which name'], ['--public desk.example --cert a.pem', 'needs its key'], ['--public desk.example --cert a.pem --key b.pem', 'no file a.pem'], ['--public desk.example --behind-proxy somewhere', 'addresses']] as const) expect(() => words(wrong), wrong).toThrow(why);
    expect(() => words('--public desk.example', { TLS_PORT: '99999' })).toThrow('TLS_PORT');
  });

  it('by a proxy on another machine lets that one in and nobody past it', () => {
    const trusted = trustedProxies('10.0.0.7');
    expect(['10.0.0.7', '::ffff:10.0.0.7', '127.0.0.1', '::1'].map((peer) => mayConnect(peer, trusted))).toEqual([true, true, true, true]);
    expect(['10.0.0.8', '192.168.1.4', undefined].map((peer) => mayConnect(peer, trusted))).toEqual([false, false, false]);
  });
});

describe('a certificate of one’s own authority', () => {
  it('is trusted by whoever trusts that, for every name of this machine, and is made anew when a name is missing', async () => {
    const at = join(folder, 'house');
    const { file, authority } = ownCertificate(at, houseNames());
    const port = await freePort();
    kept(listenTls({ cert: file, key: file, port, handle: hello }));
    const ca = readFileSync(authority);
    for (const name of houseNames().filter((one) => !one.includes(':') && !/^\d/.test(one))) expect((await ask(port, '/', { ca, name })).text).toBe('hello');
    await expect(ask(port, '/')).rejects.toThrow(/certificate/);
    await expect(ask(port, '/', { ca, name: 'elsewhere.example' })).rejects.toThrow(/altnames/);
    const before = readFileSync(file, 'utf8');
    ownCertificate(at, houseNames());
    expect(readFileSync(file, 'utf8')).toBe(before);
    ownCertificate(at, [...houseNames(), 'boathouse.local']);
    expect(certificateIn(readFileSync(file, 'utf8')).names).toContain('boathouse.local');
    // The same authority: nobody has to trust another one.
    expect(readFileSync(authority)).toEqual(ca);
    expect(wantsRenewal(file, 'localhost', Date.now() + 300 * 86_400_000)).toBe(true);
  });
});

describe('the listener', () => {
  it('takes another certificate up without a restart, and keeps the one it has when a file cannot be used', async () => {
    const [one, two] = ['one', 'two'].map((name) => ownCertificate(join(folder, name), ['localhost', '127.0.0.1']));
    const [cert, port] = [join(folder, 'own.pem'), await freePort()];
    writeFileSync(cert, readFileSync(one.file));
    const said: string[] = [];
    kept(listenTls({ cert, key: cert, port, handle: hello, say: (words: string) => said.push(words) }));
    const [first, second] = [readFileSync(one.authority), readFileSync(two.authority)];
    expect((await ask(port, '/', { ca: first })).text).toBe('hello');
    writeFileSync(cert, 'nothing');
    await expect.poll(() => said.join(), { timeout: 5000 }).toContain('cannot be used');
    expect((await ask(port, '/', { ca: first })).text).toBe('hello');
    writeFileSync(cert, readFileSync(two.file));
    await expect.poll(() => ask(port, '/', { ca: second }).then(({ text }) => text, () => ''), { timeout: 5000 }).toBe('hello');
  });

  it('on the plain port leads to TLS and gives out nothing but what an authority asked for', async () => {
    const challenges = join(folder, 'challenges');
    mkdirSync(challenges);
    writeFileSync(join(challenges, 'token-1'), 'token-1.thumb');
    const port = await freePort();
    kept(listenPlain({ port, challenges, authority: undefined, address: 'https://desk.example' }));
    expect(await ask(port, '/join/abc?x=1', { plain: true })).toMatchObject({ status: 308, headers: { location: 'https://desk.example/join/abc?x=1' } });
    expect(await ask(port, '/.well-known/acme-challenge/token-1', { plain: true })).toMatchObject({ status: 200, text: 'token-1.thumb' });
    expect((await ask(port, '/.well-known/acme-challenge/token-2', { plain: true })).status).toBe(404);
    expect((await ask(port, '/.well-known/acme-challenge/..%2Fown.pem', { plain: true })).status).toBe(308);
    expect((await ask(port, '/authority.crt', { plain: true })).status).toBe(308);
  });
});

describe('a certificate from an authority', () => {
  const NAME = 'desk.example';

  it('is got for the name, is taken up by the listener, and is renewed in time; a refusal is noted in words', async () => {
    const [tls, plain] = [await freePort(), await freePort()];
    const [at, challenges] = [join(folder, 'acme'), join(folder, 'acme', 'challenges')];
    const file = join(at, 'certificate.pem');
    const { directory, trustedBy, root, programs } = await startTestAuthority(join(folder, 'authority'), plain);
    programs.forEach(kept);
    kept(spawn(process.execPath, ['scripts/acme.mjs'], { stdio: 'ignore', env: { ...process.env, ACME_NAME: NAME, ACME_DIRECTORY: directory, TLS_FILE: file, CHALLENGES: challenges, ACME_LOOK_SECONDS: '1', NODE_EXTRA_CA_CERTS: trustedBy } }));
    const state = () => (existsSync(join(at, 'state.json')) ? (JSON.parse(readFileSync(join(at, 'state.json'), 'utf8')) as { problem: string | null }) : null);
    // Nothing answers on the plain port yet: refused, and tried again.
    await expect.poll(() => state()?.problem ?? '', { timeout: 20_000 }).not.toBe('');
    kept(listenPlain({ port: plain, challenges, authority: undefined, address: `https://${NAME}` }));
    kept(listenTls({ cert: file, key: file, port: tls, handle: hello, say: () => undefined }));
    await expect.poll(() => existsSync(file) || state()?.problem, { timeout: 20_000 }).toBe(true);
    const ca = Buffer.from(await root());
    const serial = async () => (await ask(tls, '/', { ca, name: NAME }).catch(() => null))?.serial ?? '';
    await expect.poll(serial, { timeout: 5000 }).not.toBe('');
    expect(state()).toMatchObject({ problem: null });
    expect(certificateIn(readFileSync(file, 'utf8')).names).toEqual([NAME]);
    const before = await serial();
    // One whose last third has begun.
    const old = join(folder, 'old');
    mkdirSync(old);
    execFileSync('openssl', ['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-keyout', join(old, 'key'), '-out', join(old, 'crt'), '-days', '1', '-subj', `/CN=${NAME}`, '-addext', `subjectAltName=DNS:${NAME}`], { stdio: 'ignore' });
    expect(wantsRenewal(join(old, 'crt'), NAME, Date.now() + 0.7 * 86_400_000)).toBe(true);
    expect(wantsRenewal(join(old, 'crt'), NAME)).toBe(false);
    expect(wantsRenewal(join(old, 'crt'), 'another.example')).toBe(true);
    rmSync(file);
    await expect.poll(async () => { const now = await serial(); return now !== '' && now !== before; }, { timeout: 20_000 }).toBe(true);
    writeCertificate(file, readFileSync(join(old, 'key')), readFileSync(join(old, 'crt')));
    expect(readFileSync(file, 'utf8')).toMatch(/PRIVATE KEY[^]+CERTIFICATE/);
  }, 90_000);
});
