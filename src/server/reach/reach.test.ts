import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { ownCertificate } from '../../../scripts/own-authority.mjs';
import { reachFindings, type World } from './reach';

const folder = mkdtempSync(join(tmpdir(), 'reach-'));
afterAll(() => rmSync(folder, { recursive: true }));
const NAME = 'desk.example';
const { file } = ownCertificate(folder, [NAME]) as { file: string };
const pem = readFileSync(file, 'utf8');

const world = (change: Partial<World> = {}): World => ({ addressesOf: () => Promise.resolve(['198.51.100.7']), own: () => ['127.0.0.1', '198.51.100.7'], read: (name) => (name === 'cert.pem' ? pem : null), answers: () => Promise.resolve(null), now: () => Date.now(), ...change });
const PUBLIC = { PUBLIC_URL: `https://${NAME}`, TLS_CERT: 'cert.pem', TURN_URLS: `turn:${NAME}:3478`, TURN_SECRET: 'x' };
const look = async (settings: Record<string, string>, change: Partial<World> = {}) => Object.fromEntries((await reachFindings(settings, world(change))).map(({ what, state, words }) => [what, `${state}: ${words}`]));

describe('whether guests elsewhere can come in', () => {
  it('is all good where everything is there', async () => {
    const found = await look(PUBLIC);
    expect(Object.keys(found)).toEqual(['address', 'name', 'certificate', 'answers', 'relay']);
    for (const words of Object.values(found)) expect(words).toMatch(/^good/);
    expect(found.certificate).toMatch(/holds for 39\d more days/);
  });

  it.each<[string, Record<string, string>, Partial<World>, string, RegExp]>([
    ['nobody outside', {}, {}, 'address', /^wrong: Only this machine/],
    ['the house only', { LAN_URL: 'https://192.168.1.5:8443' }, {}, 'address', /^good: .*of this house/],
    ['no encryption', { PUBLIC_URL: `http://${NAME}` }, {}, 'address', /^wrong: .*not encrypted/],
    ['a name that leads nowhere', PUBLIC, { addressesOf: () => Promise.resolve([]) }, 'name', /^wrong: .*A record/],
    ['a name that leads elsewhere', PUBLIC, { own: () => ['10.0.0.2'] }, 'name', /^unknown: .*198\.51\.100\.7/],
    ['no certificate yet', PUBLIC, { read: () => null }, 'certificate', /^wrong: There is no certificate .* being asked for/],
    ['a refusal by the authority', PUBLIC, { read: (name) => (name === 'state.json' ? '{"problem":"Timeout during connect"}' : null) }, 'certificate', /^wrong: .*The authority said: Timeout during connect/],
    ['another name in it', { ...PUBLIC, PUBLIC_URL: 'https://other.example' }, {}, 'certificate', /^wrong: .*another name/],
    ['one that ran out', PUBLIC, { now: () => Date.now() + 500 * 86_400_000 }, 'certificate', /^wrong: .*ran out/],
    ['one that was not renewed', PUBLIC, { now: () => Date.now() + 390 * 86_400_000 }, 'certificate', /^wrong: .*should have been renewed/],
    ['closed ports', PUBLIC, { answers: () => Promise.resolve('ECONNREFUSED') }, 'answers', /^unknown: .*Ports 80 and 443/],
    ['a certificate nobody trusts', PUBLIC, { answers: () => Promise.resolve('SELF_SIGNED_CERT_IN_CHAIN') }, 'answers', /^wrong/],
    ['no relay', { PUBLIC_URL: `https://${NAME}` }, {}, 'relay', /^unknown: There is no relay/],
  ])('says so of %s', async (_, settings, change, what, words) => {
    expect((await look(settings, change))[what]).toMatch(words);
  });
});
