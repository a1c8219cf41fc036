// A certificate authority of one's own, for a house without a name on the internet.
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { hostname, networkInterfaces, tmpdir } from 'node:os';
import { isIP } from 'node:net';
import { join } from 'node:path';
import { certificateIn, wantsRenewal, writeCertificate } from './tls-files.mjs';

const AUTHORITY_DAYS = 3650;
/** What browsers still take of an authority that was added by hand. */
const CERTIFICATE_DAYS = 397;

const openssl = (...words) => execFileSync('openssl', words, { stdio: ['ignore', 'pipe', 'pipe'] });

/** Addresses of this machine that others in the house can reach, IPv4 first. */
export const houseAddresses = () =>
  Object.values(networkInterfaces())
    .flatMap((ones) => ones ?? [])
    .filter(({ internal, address }) => !internal && !address.startsWith('fe80'))
    .sort((a, b) => a.family.localeCompare(b.family))
    .map(({ address }) => address);

/** Every name a browser in the house may use for this machine. */
export const houseNames = () => [...new Set([...houseAddresses(), hostname(), `${hostname()}.local`, 'localhost', '127.0.0.1'])];

/**
 * Makes the authority where there is none, and a certificate for these names where there is none that holds. Returns both files.
 */
export function ownCertificate(folder, names) {
  mkdirSync(folder, { recursive: true });
  const [key, authority, file] = ['authority.key', 'authority.crt', 'house.pem'].map((name) => join(folder, name));
  if (!existsSync(authority)) {
    openssl('req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-keyout', key, '-out', authority, '-days', String(AUTHORITY_DAYS), '-subj', `/CN=Brisk Lantern on ${hostname()}`, '-addext', 'basicConstraints=critical,CA:TRUE,pathlen:0', '-addext', 'keyUsage=critical,keyCertSign,cRLSign');
  }
  if (!names.every((name) => !wantsRenewal(file, name))) {
    const work = mkdtempSync(join(tmpdir(), 'lantern-tls-'));
    try {
      const [newKey, request, made, extra] = ['key', 'request', 'certificate', 'extra'].map((name) => join(work, name));
      const asked = names.map((name) => `${isIP(name) ? 'IP' : 'DNS'}:${name}`).join(',');
      writeFileSync(extra, `subjectAltName=${asked}\nextendedKeyUsage=serverAuth\nbasicConstraints=CA:FALSE\n`);
      openssl('req', '-new', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-keyout', newKey, '-out', request, '-subj', `/CN=${names[0]}`);
      openssl('x509', '-req', '-in', request, '-CA', authority, '-CAkey', key, '-CAcreateserial', '-days', String(CERTIFICATE_DAYS), '-extfile', extra, '-out', made);
      writeCertificate(file, readFileSync(newKey), readFileSync(made));
    } finally {
      rmSync(work, { recursive: true });
    }
  }
  return { file, authority, until: certificateIn(readFileSync(file, 'utf8')).until };
}
