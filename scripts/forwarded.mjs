// Where a request came from. Headers say what their sender likes; only the connection itself, and a proxy that the
// operator named, are believed.

const FORWARDED = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-port', 'x-forwarded-proto', 'x-real-ip', 'x-client-ip', 'cf-connecting-ip', 'true-client-ip', 'via'];
const OWN = /^x-lantern-/;

const plain = (address) => (address ?? '').replace(/^::ffff:/, '');

/** The addresses of TRUSTED_PROXIES, separated by commas. */
export const trustedProxies = (text) => new Set((text ?? '').split(',').map((one) => plain(one.trim())).filter(Boolean));

/** Whether a connection comes from this machine or from a proxy that was named. */
export const mayConnect = (peer, trusted) => /^(127\.|::1$)/.test(plain(peer)) || trusted.has(plain(peer));

/**
 * Writes into a request's headers what is known of its way, and takes out what is only said.
 * @param {Record<string, string | string[] | undefined>} headers of node:http; changed
 * @param {string | undefined} peer the other end of the connection
 * @param {Set<string>} trusted
 * @param {boolean} byTls whether the connection itself is TLS
 */
export function noteWay(headers, peer, trusted, byTls = false) {
  const forwarded = FORWARDED.some((name) => headers[name] !== undefined);
  const believed = forwarded && trusted.has(plain(peer));
  const hops = String(headers['x-forwarded-for'] ?? '').split(',').map((hop) => hop.trim()).filter(Boolean);
  // Proxies that were named write who asked them behind what they were told; the last that is none of them is who asked.
  const asked = believed ? hops.findLast((hop) => !trusted.has(plain(hop))) : undefined;
  const proto = believed ? String(headers['x-forwarded-proto'] ?? '').split(',').at(-1).trim() : '';
  for (const name of Object.keys(headers)) if (OWN.test(name) || FORWARDED.includes(name)) delete headers[name];
  headers['x-lantern-peer'] = plain(asked ?? peer);
  headers['x-lantern-way'] = forwarded ? 'forwarded' : 'direct';
  headers['x-lantern-scheme'] = proto === 'https' || (byTls && !believed) ? 'https' : 'http';
}
