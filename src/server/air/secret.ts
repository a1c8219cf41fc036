import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { HttpError } from '../http/errors';

const CIPHER = 'aes-256-gcm';
const [IV_BYTES, TAG_BYTES, KEY_BYTES] = [12, 16, 32];

/** The operator's key: 32 bytes, base64, in SECRET_KEY. @throws {HttpError} 503 without one */
function operatorKey(text = process.env.SECRET_KEY): Buffer {
  const key = Buffer.from(text ?? '', 'base64');
  if (key.length !== KEY_BYTES) throw new HttpError(503, 'no-key', `Passwords cannot be kept: SECRET_KEY must be ${KEY_BYTES} bytes in base64. "npm start" makes one; ask whoever runs this server.`);
  return key;
}

/** Encrypts a text (AES-256-GCM, NIST SP 800-38D); it can be read again only for the same purpose. */
export function seal(text: string, purpose: string): Buffer {
  const iv = randomBytes(IV_BYTES);
  const cipher = createCipheriv(CIPHER, operatorKey(), iv).setAAD(Buffer.from(purpose));
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([iv, cipher.getAuthTag(), sealed]);
}

/** @throws {Error} when it was sealed with another key or for another purpose, or was altered */
export function unseal(bytes: Uint8Array, purpose: string): string {
  const [iv, tag, sealed] = [bytes.subarray(0, IV_BYTES), bytes.subarray(IV_BYTES, IV_BYTES + TAG_BYTES), bytes.subarray(IV_BYTES + TAG_BYTES)];
  const decipher = createDecipheriv(CIPHER, operatorKey(), iv).setAAD(Buffer.from(purpose)).setAuthTag(tag);
  return Buffer.concat([decipher.update(sealed), decipher.final()]).toString('utf8');
}
