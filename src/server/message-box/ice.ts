import { createHmac } from 'node:crypto';
import { z } from '@/core/zod';

const urls = z.array(z.string().regex(/^(stun|stuns|turn|turns):\S+$/));
const list = (text: string | undefined) => urls.parse((text ?? '').split(',').map((url) => url.trim()).filter(Boolean));

export interface IceServer {
  urls: string[];
  username?: string;
  credential?: string;
}

/**
 * How long a relay's credentials let somebody begin something; what has begun goes on. They cannot be taken back, so they are
 * short, and whoever is in is given new ones in time.
 */
const MINUTES = 60;
export const RENEW_MS = 20 * 60_000;

/** By what name the relay knows a seat's browser, or the desk. */
export const relayUser = (episode: string, party: string): string => `${episode}.${party}`;

/**
 * The servers that help two browsers find each other, from STUN_URLS, TURN_URLS and TURN_SECRET.
 * The relay's credentials run out by themselves: the user name holds the end of their time, the
 * password is its HMAC-SHA1 under the secret shared with the relay (the TURN REST API scheme).
 */
export function iceServers(user: string, now = Date.now(), settings: Record<string, string | undefined> = process.env): IceServer[] {
  const stun = list(settings.STUN_URLS);
  const turn = list(settings.TURN_URLS);
  const servers: IceServer[] = stun.length > 0 ? [{ urls: stun }] : [];
  if (turn.length > 0 && settings.TURN_SECRET) {
    const username = `${Math.floor(now / 1000) + MINUTES * 60}:${user}`;
    servers.push({ urls: turn, username, credential: createHmac('sha1', settings.TURN_SECRET).update(username).digest('base64') });
  }
  return servers;
}
