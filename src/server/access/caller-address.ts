const LOOPBACK_NAMES = new Set(['127.0.0.1', 'localhost', '[::1]']);
const LOOPBACK_ADDRESS = /^(127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;

/** The address a request came from, as the server in front of us (or our own) saw it. */
export function callerAddress(headers: Headers): string {
  const last = (headers.get('x-forwarded-for') ?? '').split(',').at(-1) ?? '';
  return last.trim() || 'unknown';
}

/**
 * Whether somebody at this machine asks, by a name of this machine. A page elsewhere cannot make
 * such a request whatever its DNS says, and a proxy adds the address it was asked from.
 */
export function fromThisMachine(headers: Headers): boolean {
  const name = (headers.get('host') ?? '').replace(/:\d+$/, '');
  if (!LOOPBACK_NAMES.has(name)) return false;
  const route = (headers.get('x-forwarded-for') ?? '').split(',').map((address) => address.trim());
  return route.every((address) => address === '' || LOOPBACK_ADDRESS.test(address));
}
