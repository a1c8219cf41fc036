import { lookup } from 'node:dns/promises';
import { PRACTICE_RADIO } from '@/core/air/station';

/** Where a stream is sent: an address whose host the operator allows, resolved once. */
export interface Target {
  url: URL;
  /** The address a connection is made to, whatever the name may stand for later. */
  ip: string;
  family: number;
}

const THIS_MACHINE = ['127.0.0.1', 'localhost', '[::1]'];

/** Hosts that streams may be sent to: AIR_HOSTS, separated by commas, each with a port where only that one is meant. */
export const allowedHosts = (settings = process.env.AIR_HOSTS): string[] => (settings ?? '').split(',').map((host) => host.trim().toLowerCase()).filter(Boolean);

/** Why nothing may be sent to an address; null where it may. */
export function refusalOf(address: string, allowed = allowedHosts()): string | null {
  if (address === PRACTICE_RADIO) return null;
  const url = new URL(address);
  const hosts = allowed.length > 0 ? allowed : THIS_MACHINE;
  const port = url.port || (url.protocol === 'https:' ? '443' : '80');
  if (hosts.includes(url.hostname) || hosts.includes(`${url.hostname}:${port}`)) return null;
  return `This server sends streams only to ${hosts.join(', ')}. Whoever runs it can allow ${url.hostname} by adding it to AIR_HOSTS.`;
}

/** @throws {Error} with words for the host, when it may not be used or its name stands for nothing */
export async function targetOf(address: string): Promise<Target> {
  const refusal = refusalOf(address);
  if (refusal) throw new Error(refusal);
  const practice = process.env.PRACTICE_RADIO;
  if (address === PRACTICE_RADIO && !practice) throw new Error('The practice radio does not run here. "npm start" starts it.');
  const url = new URL(address === PRACTICE_RADIO ? `${practice}/practice` : address);
  const found = await lookup(url.hostname.replace(/^\[|\]$/g, '')).catch(() => null);
  if (!found) throw new Error(`There is no server called ${url.hostname}, or its name cannot be looked up for the moment.`);
  return { url, ip: found.address, family: found.family };
}
