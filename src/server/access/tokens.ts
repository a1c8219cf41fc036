import { createHash, randomBytes } from 'node:crypto';

/** 256 random bits for an address or a cookie, with the hash that is stored in their place. */
export function newToken(): { token: string; hash: Buffer } {
  const token = randomBytes(32).toString('base64url');
  return { token, hash: hashToken(token) };
}

/** Tokens are random, so one plain SHA-256 is enough: there is nothing to guess faster. */
export const hashToken = (token: string): Buffer => createHash('sha256').update(token).digest();

/** Whether a text can be a token at all. */
export const looksLikeToken = (text: string): boolean => /^[A-Za-z0-9_-]{43}$/.test(text);
