// How the product is reached: on this machine only, by a public name, in the house, or behind a proxy.
import { existsSync } from 'node:fs';
import { isIP } from 'node:net';
import { join, resolve } from 'node:path';
import { houseAddresses, houseNames, ownCertificate } from './own-authority.mjs';
import { Trouble } from './trouble.mjs';

const NAME = /^(?=.{1,253}$)([a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9-]{2,63}$/i;

const valueOf = (words, option) => {
  const at = words.indexOf(option);
  if (at < 0) return null;
  const value = words[at + 1];
  if (value === undefined || value.startsWith('--')) throw new Trouble(`${option} needs a value, such as ${EXAMPLES[option]}.`);
  return value;
};
const EXAMPLES = { '--public': '--public desk.example', '--cert': '--cert chain.pem', '--key': '--key key.pem', '--behind-proxy': '--behind-proxy 127.0.0.1', '--email': '--email you@desk.example' };

const portOf = (text, otherwise, what) => {
  if (text === undefined) return otherwise;
  const port = Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Trouble(`${what} must be a number from 1 to 65535, received "${text}".`);
  return port;
};

const withPort = (name, port) => `https://${name.includes(':') ? `[${name}]` : name}${port === 443 ? '' : `:${port}`}`;

/**
 * Reads the words of the start command.
 * @returns {{ mode: 'here' | 'public' | 'proxy' | 'lan', address: string | null, server: Record<string, string>, acme: Record<string, string> | null }}
 *   what the server is told, and what whoever keeps the certificate, where somebody must
 * @throws {Trouble} for words that do not go together
 */
export function reachOf(words, folder, settings = process.env) {
  const [name, cert, key, proxies] = ['--public', '--cert', '--key', '--behind-proxy'].map((option) => valueOf(words, option));
  const lan = words.includes('--lan');
  if (lan && name) throw new Trouble('--lan is for a house without a public name; with --public there is one. Choose one of them.');
  if ((cert === null) !== (key === null)) throw new Trouble('A certificate needs its key: give both --cert FILE and --key FILE.');
  if ((cert || proxies) && !name) throw new Trouble('Say by which name it is reached as well: --public desk.example');
  if (cert && proxies) throw new Trouble('Behind a proxy the proxy has the certificate: leave out --cert and --key.');
  for (const file of [cert, key]) if (file && !existsSync(file)) throw new Trouble(`There is no file ${file}.`);
  if (lan) return inTheHouse(folder, settings);
  if (!name) return { mode: 'here', address: null, server: {}, acme: null };
  if (!NAME.test(name)) throw new Trouble(`"${name}" is no name a certificate can be had for. Give one such as desk.example.`);
  if (proxies) {
    for (const one of proxies.split(',')) if (!isIP(one.trim())) throw new Trouble(`--behind-proxy takes addresses such as 127.0.0.1, received "${one}".`);
    const address = settings.PUBLIC_URL ?? withPort(name, 443);
    const elsewhere = proxies.split(',').some((one) => !/^(127\.|::1$)/.test(one.trim()));
    return { mode: 'proxy', address, server: { PUBLIC_URL: address, TRUSTED_PROXIES: proxies, ...(elsewhere && { LISTEN: '::' }) }, acme: null };
  }
  const port = portOf(settings.TLS_PORT, 443, 'TLS_PORT');
  const address = withPort(name, port);
  const file = join(resolve(folder), 'certificate.pem');
  const challenges = join(resolve(folder), 'challenges');
  const server = {
    PUBLIC_URL: address,
    TLS_CERT: cert ? resolve(cert) : file,
    TLS_KEY: key ? resolve(key) : file,
    TLS_PORT: String(port),
    PLAIN_PORT: String(portOf(settings.PLAIN_PORT, 80, 'PLAIN_PORT')),
    CHALLENGES: challenges,
  };
  const email = valueOf(words, '--email');
  return { mode: 'public', address, server, acme: cert ? null : { ACME_NAME: name, TLS_FILE: file, CHALLENGES: challenges, ...(email && { ACME_EMAIL: email }) } };
}

function inTheHouse(folder, settings) {
  const [first] = houseAddresses();
  if (first === undefined) throw new Trouble('This machine has no network that others could reach it by. Connect it, and start again.');
  const port = portOf(settings.TLS_PORT, 8443, 'TLS_PORT');
  const { file, authority } = ownCertificate(resolve(folder), houseNames());
  const address = withPort(first, port);
  const server = { LAN_URL: address, TLS_CERT: file, TLS_KEY: file, TLS_PORT: String(port), PLAIN_PORT: String(portOf(settings.PLAIN_PORT, 8080, 'PLAIN_PORT')), AUTHORITY: authority };
  return { mode: 'lan', address, server, acme: null };
}
