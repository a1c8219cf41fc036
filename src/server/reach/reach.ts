import { lookup } from 'node:dns/promises';
import { existsSync, readFileSync } from 'node:fs';
import { networkInterfaces } from 'node:os';
import { dirname, join } from 'node:path';
import { X509Certificate } from 'node:crypto';
import type { ReachFinding } from '@/core/session/reach';

type Settings = Record<string, string | undefined>;

/** What is asked of the world outside; tests ask another one. */
export interface World {
  addressesOf(name: string): Promise<string[]>;
  own(): string[];
  read(file: string): string | null;
  /** Why an address does not answer; null where it does. */
  answers(address: string): Promise<string | null>;
  now(): number;
}

const DAY_MS = 86_400_000;
/** Less is said: by then it should have been renewed. */
const SOON_DAYS = 14;
const ANSWER_WITHIN_MS = 5000;

const here: World = {
  addressesOf: async (name) => (await lookup(name, { all: true }).catch(() => [])).map(({ address }) => address),
  own: () => Object.values(networkInterfaces()).flatMap((ones) => (ones ?? []).map(({ address }) => address)),
  read: (file) => (existsSync(file) ? readFileSync(file, 'utf8') : null),
  answers: (address) =>
    fetch(`${address}/api/health`, { signal: AbortSignal.timeout(ANSWER_WITHIN_MS) }).then(
      ({ ok, status }) => (ok ? null : `it answers ${status}`),
      (error: Error & { cause?: { code?: string } }) => error.cause?.code ?? error.message,
    ),
  now: () => Date.now(),
};

/** Everything that has to hold for guests elsewhere, looked at from this server. */
export async function reachFindings(settings: Settings = process.env, world: World = here): Promise<ReachFinding[]> {
  const { PUBLIC_URL, LAN_URL } = settings;
  const relay = relayFinding(settings);
  if (!PUBLIC_URL) {
    return LAN_URL
      ? [{ what: 'address', state: 'good', words: `Links lead to ${LAN_URL}, an address of this house: browsers there have to trust its certificate, and from outside nobody comes in.` }, relay]
      : [{ what: 'address', state: 'wrong', words: 'Only this machine reaches it. Start it with `npm start -- --public desk.example` for guests anywhere, or with `npm start -- --lan` for guests in the house.' }, relay];
  }
  const address = PUBLIC_URL.replace(/\/+$/, '');
  const { hostname, protocol } = new URL(address);
  const found: ReachFinding[] = [
    protocol === 'https:'
      ? { what: 'address', state: 'good', words: `Links lead to ${address}.` }
      : { what: 'address', state: 'wrong', words: `${address} is not encrypted, and browsers give a page no microphone there. PUBLIC_URL has to begin with https://.` },
    await nameFinding(hostname, world),
  ];
  if (settings.TLS_CERT) found.push(certificateFinding(settings.TLS_CERT, hostname, world));
  const trouble = await world.answers(address);
  found.push(
    trouble === null
      ? { what: 'answers', state: 'good', words: 'It answers at that address, asked from this machine.' }
      : { what: 'answers', state: /CERT|ALTNAME|SIGNED/.test(trouble) ? 'wrong' : 'unknown', words: `Asked from this machine it does not answer at that address (${trouble}). Ports 80 and 443 have to be open to it; some routers do not let a machine ask itself by its outside address.` },
  );
  return [...found, relay];
}

async function nameFinding(name: string, world: World): Promise<ReachFinding> {
  const addresses = await world.addressesOf(name);
  if (addresses.length === 0) return { what: 'name', state: 'wrong', words: `The name ${name} leads nowhere. Where it was registered it needs an A record (and AAAA, if there is one) with the address of this machine.` };
  const own = world.own();
  if (addresses.some((address) => own.includes(address))) return { what: 'name', state: 'good', words: `The name ${name} leads to this machine.` };
  return { what: 'name', state: 'unknown', words: `The name ${name} leads to ${addresses.join(', ')}, which is no address of this machine itself. That is right where a router or a proxy passes ports 80 and 443 on to it.` };
}

function certificateFinding(file: string, name: string, world: World): ReachFinding {
  const wrong = (words: string): ReachFinding => ({ what: 'certificate', state: 'wrong', words });
  const text = world.read(file);
  const problem = problemOf(world.read(join(dirname(file), 'state.json')));
  if (text === null) return wrong(`There is no certificate for ${name} yet. ${problem ?? 'It is being asked for; that takes a minute.'}`);
  const block = /-----BEGIN CERTIFICATE-----[^]+?-----END CERTIFICATE-----/.exec(text);
  if (!block) return wrong(`There is no certificate in ${file}.`);
  const certificate = new X509Certificate(block[0]);
  const days = Math.floor((Date.parse(certificate.validTo) - world.now()) / DAY_MS);
  if (certificate.checkHost(name) === undefined) return wrong(`The certificate in ${file} is for another name than ${name}.`);
  if (days < 0) return wrong(`The certificate for ${name} ran out ${-days} days ago. ${problem ?? ''}`.trim());
  const until = `holds for ${days} more days`;
  return days < SOON_DAYS ? wrong(`The certificate for ${name} ${until} only, and should have been renewed. ${problem ?? ''}`.trim()) : { what: 'certificate', state: 'good', words: `The certificate for ${name} ${until}.` };
}

/** What the authority said last, where it refused. */
function problemOf(state: string | null): string | null {
  try {
    const { problem } = JSON.parse(state ?? '{}') as { problem?: string | null };
    return problem ? `The authority said: ${problem}` : null;
  } catch {
    return null;
  }
}

function relayFinding({ TURN_URLS, TURN_SECRET }: Settings): ReachFinding {
  if (TURN_URLS && TURN_SECRET) return { what: 'relay', state: 'good', words: `Guests whose network lets no direct call through are given a relay: ${TURN_URLS.split(',')[0]}.` };
  return { what: 'relay', state: 'unknown', words: 'There is no relay: guests behind strict networks (offices, some phones) cannot come in. With `--public` the product starts its own; another one is set by TURN_URLS and TURN_SECRET.' };
}
