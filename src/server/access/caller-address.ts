/**
 * What the product's own server knows of where a request came from, as headers that it sets itself and takes away from
 * whoever else sends them (see scripts/http-server.mjs). What a request says of itself does not count.
 */
export const PEER = 'x-lantern-peer';
/** `direct`, or `forwarded` for what came by somebody else: a proxy, named by the operator or not. */
export const WAY = 'x-lantern-way';
/** `https` or `http`, as a proxy says that the operator named. */
export const SCHEME = 'x-lantern-scheme';

const LOOPBACK_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);
const LOOPBACK_ADDRESS = /^(127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;

/** The address a request came from, as our own server or a proxy named by the operator saw it. */
export const callerAddress = (headers: Headers): string => headers.get(PEER) ?? 'unknown';

/** The network of an address, as far as one household or office has one: /24 of IPv4, /48 of IPv6. */
export function callerNetwork(headers: Headers): string {
  const address = callerAddress(headers).replace(/^::ffff:/, '');
  return address.includes(':') ? address.split(':').slice(0, 3).join(':') : address.split('.').slice(0, 3).join('.');
}

/** Whether a process of this machine asks, by nobody else's hand. */
export const fromLoopback = (headers: Headers): boolean => headers.get(WAY) === 'direct' && LOOPBACK_ADDRESS.test(callerAddress(headers));

/**
 * Whether somebody at this machine asks, by a name of this machine and by nobody else's hand: a page elsewhere cannot
 * make such a request whatever its DNS says, and where a proxy stands before the product nobody is known to sit here.
 */
export function fromThisMachine(headers: Headers): boolean {
  const name = (headers.get('host') ?? '').replace(/:\d+$/, '');
  return !process.env.PUBLIC_URL && LOOPBACK_NAMES.has(name) && fromLoopback(headers);
}
