// Certificates on disk: one file with key and chain that is replaced whole, and what it says of itself.
import { X509Certificate } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { dirname } from 'node:path';

/** Key and chain together, readable by nobody else. Whoever reads it finds the old one or the new one, and never a part. */
export function writeCertificate(file, key, chain) {
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(`${file}.new`, `${String(key).trim()}\n${String(chain).trim()}\n`, { mode: 0o600 });
  renameSync(`${file}.new`, file);
}

/** The first certificate of a PEM text: whose it is, and until when. @throws {Error} when there is none */
export function certificateIn(pem) {
  const found = /-----BEGIN CERTIFICATE-----[^]+?-----END CERTIFICATE-----/.exec(pem);
  if (!found) throw new Error('There is no certificate in this file.');
  const certificate = new X509Certificate(found[0]);
  const names = (certificate.subjectAltName ?? '').split(',').map((name) => name.trim().replace(/^(DNS|IP Address):/, ''));
  // Addresses are written in many ways; the certificate itself knows them all.
  const isFor = (name) => (isIP(name) ? certificate.checkIP(name) : certificate.checkHost(name)) !== undefined;
  return { names, isFor, from: new Date(certificate.validFrom), until: new Date(certificate.validTo) };
}

/** Whether a certificate is to be renewed: the last third of its time has begun (RFC 8555 leaves it open; this is usual), or it is for another name. */
export function wantsRenewal(file, name, now = Date.now()) {
  if (!existsSync(file)) return true;
  try {
    const { isFor, from, until } = certificateIn(readFileSync(file, 'utf8'));
    return !isFor(name) || now > until.getTime() - (until.getTime() - from.getTime()) / 3;
  } catch {
    return true;
  }
}
